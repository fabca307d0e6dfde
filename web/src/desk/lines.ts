// Kinds of line that an added line can have.
export const LINES = ['visible', 'thin', 'hidden', 'center', 'phantom', 'cutting'] as const
