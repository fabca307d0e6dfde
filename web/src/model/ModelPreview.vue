<script setup lang="ts">
// The 3D preview: turn with the pointer, wheel to come nearer. Drawn only when something changes.
import * as THREE from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

const props = withDefaults(defineProps<{ url: string; lit: string; picking?: boolean; moves?: Record<string, number[]>; diagonal?: number }>(), { picking: false, moves: () => ({}), diagonal: 0 })
const emit = defineEmits<{ face: [normal: [number, number, number], up: [number, number, number]] }>()
const place = ref<HTMLDivElement>()
const state = ref<'loading' | 'ready' | 'failed'>('loading')
let renderer: THREE.WebGLRenderer | undefined
let controls: OrbitControls | undefined
let watcher: ResizeObserver | undefined
const scene = new THREE.Scene()
const camera = new THREE.OrthographicCamera()
const root = new THREE.Group()
let radius = 1

function draw() {
  renderer?.render(scene, camera)
}

function fit() {
  const box = place.value
  if (!box || !renderer) return
  const { clientWidth: w, clientHeight: h } = box
  renderer.setSize(w, h)
  const half = radius * 1.15
  const aspect = w / Math.max(h, 1)
  camera.left = -half * Math.max(aspect, 1)
  camera.right = -camera.left
  camera.top = half * Math.max(1 / aspect, 1)
  camera.bottom = -camera.top
  camera.near = -radius * 20
  camera.far = radius * 20
  camera.updateProjectionMatrix()
  draw()
}

function look(x: number, y: number, z: number) {
  camera.position.set(x, y, z).multiplyScalar(radius * 2)
  camera.lookAt(0, 0, 0)
  controls?.target.set(0, 0, 0)
  controls?.update()
  draw()
}

onMounted(async () => {
  try {
    renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true })
  } catch {
    state.value = 'failed'
    return
  }
  renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2))
  place.value!.append(renderer.domElement)
  scene.add(root, new THREE.HemisphereLight(0xffffff, 0x9a9a90, 2.2))
  const sun = new THREE.DirectionalLight(0xffffff, 1.6)
  sun.position.set(-1, 2, 1.5)
  scene.add(sun)
  controls = new OrbitControls(camera, renderer.domElement)
  controls.addEventListener('change', draw)
  try {
    const { scene: model } = await new GLTFLoader().loadAsync(props.url)
    const box = new THREE.Box3().setFromObject(model)
    model.position.sub(box.getCenter(new THREE.Vector3()))
    radius = box.getSize(new THREE.Vector3()).length() / 2 || 1
    model.traverse((o) => {
      if (!(o instanceof THREE.Mesh)) return
      const lines = new THREE.LineSegments(new THREE.EdgesGeometry(o.geometry, 20), new THREE.LineBasicMaterial({ color: 0x23211f }))
      lines.userData.edges = true
      o.material = (o.material as THREE.MeshStandardMaterial).clone()
      Object.assign(o.material, { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1, side: THREE.DoubleSide })
      o.userData.color = (o.material as THREE.MeshStandardMaterial).color.clone()
      o.add(lines)
    })
    root.add(model)
    state.value = 'ready'
  } catch {
    state.value = 'failed'
  }
  watcher = new ResizeObserver(fit)
  watcher.observe(place.value!)
  fit()
  look(-0.9, 0.8, 1.1)
})

const ray = new THREE.Raycaster()
let pressed: { x: number; y: number } | null = null

function press(event: PointerEvent) {
  pressed = { x: event.clientX, y: event.clientY }
}
/** A click on a face tells which way it looks, in the model's own axes (z up), and which way is up on the screen. */
function pick(event: PointerEvent) {
  if (!props.picking || !pressed || Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) > 4 || !renderer) return
  const box = renderer.domElement.getBoundingClientRect()
  ray.setFromCamera(new THREE.Vector2(((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2), camera)
  const hit = ray.intersectObject(root, true).find((h) => h.object instanceof THREE.Mesh && h.face)
  if (!hit?.face) return
  const n = hit.face.normal.clone().transformDirection(hit.object.matrixWorld)
  if (n.dot(ray.ray.direction) > 0) n.negate()
  const up = new THREE.Vector3(0, 1, 0).applyQuaternion(camera.quaternion)
  const model = (v: THREE.Vector3): [number, number, number] => [v.x, -v.z, v.y]
  emit('face', model(n), model(up))
}

watch(
  () => props.lit,
  (path) => {
    root.traverse((o) => {
      if (!(o instanceof THREE.Mesh)) return
      const mine = path !== '' && (o.name === path || o.parent?.name === path || THREE.PropertyBinding.sanitizeNodeName(path) === o.name)
      const material = o.material as THREE.MeshStandardMaterial
      material.color.copy(mine ? new THREE.Color(0x8469a9) : o.userData.color)
    })
    draw()
  },
)

/** Parts moved out of their places, mm in the model's own axes. */
const home = new Map<THREE.Object3D, THREE.Vector3>()
function shift() {
  const factor = props.diagonal ? (2 * radius) / props.diagonal : 0
  root.traverse((o) => {
    const path = Object.keys(props.moves).find((p) => o.name === p || o.name === THREE.PropertyBinding.sanitizeNodeName(p))
    if (!path && !home.has(o)) return
    if (o.parent && (o.parent.name === o.name || home.has(o.parent))) return
    if (!home.has(o)) home.set(o, o.position.clone())
    const [x, y, z] = path ? props.moves[path] : [0, 0, 0]
    const by = new THREE.Vector3(x, z, -y).multiplyScalar(factor)
    if (o.parent) by.applyQuaternion(o.parent.getWorldQuaternion(new THREE.Quaternion()).invert()).divide(o.parent.getWorldScale(new THREE.Vector3()))
    o.position.copy(home.get(o)!).add(by)
  })
  draw()
}
watch(() => props.moves, shift)

onBeforeUnmount(() => {
  watcher?.disconnect()
  controls?.dispose()
  renderer?.dispose()
})
</script>

<template>
  <div ref="place" class="preview" :data-state="state" data-test="preview" @pointerdown="(e) => press(e)" @pointerup="pick">
    <p v-if="state === 'loading'" class="quiet say">Loading the preview …</p>
    <p v-if="state === 'failed'" class="quiet say">The preview cannot be shown in this browser; drawings work all the same.</p>
    <div v-if="!picking" class="look">
      <button class="pill" @click="look(0, 0, 1)">Front</button>
      <button class="pill" @click="look(0, 1, 0.0001)">Top</button>
      <button class="pill" @click="look(1, 0, 0)">Right</button>
      <button class="pill" @click="look(-0.9, 0.8, 1.1)">Pictorial</button>
    </div>
  </div>
</template>

<style scoped>
.preview {
  position: absolute;
  inset: 0;
  overflow: hidden;
}
.preview :deep(canvas) {
  display: block;
}
.say {
  position: absolute;
  inset: 0;
  display: grid;
  place-items: center;
  margin: 0;
}
.look {
  position: absolute;
  left: 16px;
  bottom: 16px;
  display: flex;
  gap: 8px;
}
</style>
