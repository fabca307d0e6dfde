"""Work that takes time: reading, deriving, publishing; done by worker processes, shown with its progress."""
