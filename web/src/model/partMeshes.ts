// The parts of a model as instanced meshes: one for each distinct part, however often it is placed, so that large assemblies stay quick.
import * as THREE from 'three'

interface Placed {
  mesh: THREE.InstancedMesh
  index: number
  home: THREE.Matrix4
  color: THREE.Color
}

const LIT = new THREE.Color(0x8469a9)
const lineMaterial = new THREE.ShaderMaterial({
  vertexShader: 'attribute mat4 instanceMatrix; void main() { gl_Position = projectionMatrix * modelViewMatrix * instanceMatrix * vec4(position, 1.0); }',
  fragmentShader: 'void main() { gl_FragColor = vec4(0.137, 0.129, 0.122, 1.0); }',
})

export class PartMeshes {
  readonly group = new THREE.Group()
  private readonly placed = new Map<string, Placed>()
  private readonly paths = new Map<THREE.Object3D, string[]>()

  /** Takes over a loaded glTF scene whose world matrices are up to date. */
  constructor(model: THREE.Object3D) {
    const alike = new Map<string, { geometry: THREE.BufferGeometry; material: THREE.MeshStandardMaterial; nodes: [string, THREE.Matrix4][] }>()
    model.traverse((o) => {
      if (!(o instanceof THREE.Mesh)) return
      const named = o.userData.name ? o : o.parent
      const found = alike.get(o.geometry.uuid) ?? { geometry: o.geometry, material: o.material as THREE.MeshStandardMaterial, nodes: [] as [string, THREE.Matrix4][] }
      found.nodes.push([(named?.userData.name as string | undefined) ?? o.name, o.matrixWorld.clone()])
      alike.set(o.geometry.uuid, found)
    })
    for (const { geometry, material, nodes } of alike.values()) {
      const face = material.clone()
      const color = face.color.clone()
      face.color.set(0xffffff)
      Object.assign(face, { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1, side: THREE.DoubleSide })
      const mesh = new THREE.InstancedMesh(geometry, face, nodes.length)
      mesh.frustumCulled = false
      nodes.forEach(([path, matrix], index) => {
        mesh.setMatrixAt(index, matrix)
        mesh.setColorAt(index, color)
        this.placed.set(path, { mesh, index, home: matrix, color })
      })
      this.paths.set(mesh, nodes.map(([path]) => path))
      const edges = new THREE.EdgesGeometry(geometry, 20)
      const instanced = new THREE.InstancedBufferGeometry()
      instanced.setAttribute('position', edges.getAttribute('position'))
      instanced.setAttribute('instanceMatrix', mesh.instanceMatrix)
      instanced.instanceCount = nodes.length
      const lines = new THREE.LineSegments(instanced, lineMaterial)
      lines.frustumCulled = false
      lines.raycast = () => {}
      geometry.computeBoundingBox()
      this.group.add(mesh, lines)
    }
  }

  get count(): number {
    return this.placed.size
  }

  light(paths: readonly string[]) {
    const mine = new Set(paths)
    for (const [path, p] of this.placed) p.mesh.setColorAt(p.index, mine.has(path) ? LIT : p.color)
    for (const mesh of this.paths.keys()) (mesh as THREE.InstancedMesh).instanceColor!.needsUpdate = true
  }

  /** Parts moved from their places, in the scene's axes. */
  move(by: (path: string) => THREE.Vector3 | null) {
    const matrix = new THREE.Matrix4()
    for (const [path, p] of this.placed) {
      const way = by(path)
      matrix.copy(p.home)
      if (way) matrix.premultiply(new THREE.Matrix4().makeTranslation(way))
      p.mesh.setMatrixAt(p.index, matrix)
    }
    for (const mesh of this.paths.keys()) {
      const m = mesh as THREE.InstancedMesh
      m.instanceMatrix.needsUpdate = true
      m.boundingSphere = null // it was of where the parts were
    }
  }

  /** The box around parts as they stand: those named, or all. */
  box(paths?: readonly string[]): THREE.Box3 {
    const out = new THREE.Box3()
    const matrix = new THREE.Matrix4()
    for (const path of paths ?? this.placed.keys()) {
      const p = this.placed.get(path)
      if (!p) continue
      p.mesh.getMatrixAt(p.index, matrix)
      out.union(p.mesh.geometry.boundingBox!.clone().applyMatrix4(matrix))
    }
    return out
  }

  /** What a ray meets first: the part, and which way its face looks. */
  hit(ray: THREE.Raycaster): { path: string; normal: THREE.Vector3 } | null {
    const found = ray.intersectObject(this.group, true).find((h) => h.face && h.instanceId !== undefined)
    if (!found?.face) return null
    const path = this.paths.get(found.object)![found.instanceId!]
    const matrix = new THREE.Matrix4()
    ;(found.object as THREE.InstancedMesh).getMatrixAt(found.instanceId!, matrix)
    return { path, normal: found.face.normal.clone().transformDirection(matrix) }
  }

  dispose() {
    this.group.traverse((o) => {
      if (o instanceof THREE.InstancedMesh || o instanceof THREE.LineSegments) o.geometry.dispose()
      if (o instanceof THREE.InstancedMesh) o.dispose()
    })
  }
}
