// Zoom and place of the paper in the window: pixels per sheet millimeter, and where its upper left corner lies.
export interface Camera {
  zoom: number
  left: number
  top: number
}

export function fitted(width: number, height: number, roomWidth: number, roomHeight: number, margin = 16): Camera {
  const zoom = Math.max(0.05, Math.min((roomWidth - 2 * margin) / width, (roomHeight - 2 * margin) / height))
  return { zoom, left: (roomWidth - width * zoom) / 2, top: (roomHeight - height * zoom) / 2 }
}

/** The same point of the paper stays under the pointer. */
export function zoomed(c: Camera, x: number, y: number, factor: number): Camera {
  const zoom = Math.max(0.1, Math.min(60, c.zoom * factor))
  const k = zoom / c.zoom
  return { zoom, left: x - (x - c.left) * k, top: y - (y - c.top) * k }
}

/** Sheet millimeters, y up, of a point of the window. */
export function toSheet(c: Camera, x: number, y: number, height: number): { x: number; y: number } {
  return { x: (x - c.left) / c.zoom, y: height - (y - c.top) / c.zoom }
}
