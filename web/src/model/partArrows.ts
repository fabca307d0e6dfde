// Six arrows along the model's axes at the chosen parts: dragging one moves the parts along it.
import * as THREE from 'three'

interface Pull {
  direction: THREE.Vector3
  distance: number
}

const WAYS = [1, -1].flatMap((s) => [new THREE.Vector3(s, 0, 0), new THREE.Vector3(0, s, 0), new THREE.Vector3(0, 0, s)])

export function usePartArrows(scene: THREE.Scene, camera: THREE.OrthographicCamera, draw: () => void) {
  const group = new THREE.Group()
  group.visible = false
  group.renderOrder = 10
  scene.add(group)
  const heather = new THREE.MeshBasicMaterial({ color: 0x6a4c93, depthTest: false, transparent: true, opacity: 0.9 })
  const lit = new THREE.MeshBasicMaterial({ color: 0xb497d6, depthTest: false, transparent: true })
  const shaft = new THREE.CylinderGeometry(0.006, 0.006, 0.16, 12).translate(0, 0.12, 0)
  const head = new THREE.ConeGeometry(0.022, 0.065, 18).translate(0, 0.23, 0)
  const grip = new THREE.CylinderGeometry(0.035, 0.035, 0.22, 8).translate(0, 0.16, 0)
  const arrows = WAYS.map((way) => {
    const arrow = new THREE.Group()
    for (const part of [shaft, head]) {
      const mesh = new THREE.Mesh(part, heather)
      mesh.renderOrder = 10
      arrow.add(mesh)
    }
    const wide = new THREE.Mesh(grip, new THREE.MeshBasicMaterial({ visible: false }))
    arrow.add(wide)
    arrow.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), way)
    arrow.userData.way = way
    group.add(arrow)
    return arrow
  })
  let held: { way: THREE.Vector3; from: number; at: THREE.Vector3 } | null = null

  /** The arrow under the pointer: its way. One that points at the viewer cannot be dragged and is not shown. */
  function under(ray: THREE.Raycaster): THREE.Vector3 | null {
    if (!group.visible) return null
    const hit = ray.intersectObjects(arrows.filter((a) => a.visible), true)[0]
    for (let o: THREE.Object3D | null = hit?.object ?? null; o; o = o.parent) if (o.userData.way) return o.userData.way as THREE.Vector3
    return null
  }
  function paint(way: THREE.Vector3 | null) {
    for (const a of arrows) for (const m of a.children.slice(0, 2)) (m as THREE.Mesh).material = a.userData.way === way ? lit : heather
    draw()
  }
  /** How far along a line through a point the pointer's ray passes it. */
  function along(ray: THREE.Raycaster, at: THREE.Vector3, way: THREE.Vector3): number {
    const d = ray.ray.direction
    const w = at.clone().sub(ray.ray.origin)
    const b = way.dot(d)
    const across = 1 - b * b
    return across < 1e-6 ? 0 : (b * d.dot(w) - way.dot(w)) / across
  }
  return {
    show(at: THREE.Vector3 | null, size: number) {
      group.visible = at !== null
      if (at) {
        group.position.copy(at)
        group.scale.setScalar(size)
      }
      const look = camera.getWorldDirection(new THREE.Vector3())
      for (const a of arrows) a.visible = Math.abs((a.userData.way as THREE.Vector3).dot(look)) < 0.97
    },
    /** Where the heads are, in the scene, by the way they point. */
    heads(): { way: THREE.Vector3; at: THREE.Vector3 }[] {
      if (!group.visible) return []
      return arrows.filter((a) => a.visible).map((a) => ({ way: a.userData.way as THREE.Vector3, at: group.position.clone().addScaledVector(a.userData.way as THREE.Vector3, 0.2 * group.scale.x) }))
    },
    near(ray: THREE.Raycaster): boolean {
      const way = held?.way ?? under(ray)
      if (group.visible) paint(way)
      return way !== null
    },
    grab(ray: THREE.Raycaster): boolean {
      const way = under(ray)
      if (!way) return false
      const at = group.position.clone()
      held = { way, from: along(ray, at, way), at }
      return true
    },
    pull(ray: THREE.Raycaster): Pull | null {
      if (!held) return null
      const distance = along(ray, held.at, held.way) - held.from
      group.position.copy(held.at).addScaledVector(held.way, distance)
      return { direction: held.way.clone(), distance }
    },
    let_go(ray: THREE.Raycaster): Pull | null {
      const out = this.pull(ray)
      held = null
      return out
    },
    held: () => held !== null,
  }
}
