<script setup lang="ts">
// The 3D preview: turn with the pointer, wheel to come nearer. Drawn only when something changes.
import * as THREE from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { usePartArrows } from './partArrows'
import { PartMeshes } from './partMeshes'

const props = withDefaults(
  defineProps<{
    url: string
    /** Paths of the parts that are lit. */
    lit: string[]
    /** Clicks tell faces and directions, for choosing a main view. */
    picking?: boolean
    /** Clicks choose parts, and the chosen ones bear arrows to drag them by. */
    dragging?: boolean
    moves?: Record<string, number[]>
    diagonal?: number
    /** Circles that are lit: holes, in the model's own axes, mm. */
    rings?: { at: number[]; direction: number[]; radius: number }[]
  }>(),
  { picking: false, dragging: false, moves: () => ({}), diagonal: 0, rings: () => [] },
)
const emit = defineEmits<{
  face: [normal: [number, number, number], up: [number, number, number]]
  part: [path: string, more: boolean]
  drag: [direction: [number, number, number], distance: number, done: boolean]
}>()
const place = ref<HTMLDivElement>()
const state = ref<'loading' | 'ready' | 'failed'>('loading')
let renderer: THREE.WebGLRenderer | undefined
let controls: OrbitControls | undefined
let watcher: ResizeObserver | undefined
const scene = new THREE.Scene()
const camera = new THREE.OrthographicCamera()
let parts: PartMeshes | null = null
let radius = 1
/** How much of the scene is shown, in radii, and about which place: more when parts are apart. */
let spread = 1
const middle = new THREE.Vector3()
/** Of the model, in the glTF's own place. */
const center = new THREE.Vector3()
const lights = new THREE.Group()

let due = 0
/** However often it is asked for, once a frame. */
function draw() {
  due ||= requestAnimationFrame(() => {
    due = 0
    renderer?.render(scene, camera)
  })
}

function fit() {
  const box = place.value
  if (!box || !renderer) return
  const { clientWidth: w, clientHeight: h } = box
  const had = renderer.getSize(new THREE.Vector2())
  if (had.x !== w || had.y !== h) renderer.setSize(w, h)
  const half = radius * spread * 1.15
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
  camera.position.set(x, y, z).multiplyScalar(radius * 2).add(middle)
  camera.lookAt(middle)
  controls?.target.copy(middle)
  controls?.update()
  arm()
}

/** Instances from which edges are drawn without smoothing: without a graphics card it takes most of the time. */
const MANY = 300

onMounted(async () => {
  try {
    const { scene: model } = await new GLTFLoader().loadAsync(props.url)
    const box = new THREE.Box3().setFromObject(model)
    box.getCenter(center)
    model.position.sub(center)
    model.updateMatrixWorld(true)
    radius = box.getSize(new THREE.Vector3()).length() / 2 || 1
    parts = new PartMeshes(model)
    renderer = new THREE.WebGLRenderer({ antialias: parts.count < MANY, alpha: true })
  } catch {
    state.value = 'failed'
    return
  }
  if (!place.value) return renderer.dispose() // the page was left meanwhile
  renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2))
  place.value.append(renderer.domElement)
  const sun = new THREE.DirectionalLight(0xffffff, 1.6)
  sun.position.set(-1, 2, 1.5)
  scene.add(parts.group, lights, new THREE.HemisphereLight(0xffffff, 0x9a9a90, 2.2), sun)
  controls = new OrbitControls(camera, renderer.domElement)
  controls.addEventListener('change', draw)
  state.value = 'ready'
  ring()
  light()
  shift()
  watcher = new ResizeObserver(fit)
  watcher.observe(place.value)
  fit()
  look(-0.9, 0.8, 1.1)
})

const LIT = new THREE.MeshBasicMaterial({ color: 0x6a4c93, depthTest: false, transparent: true })
/** Rings about the lit holes, drawn over everything. */
function ring() {
  for (const old of lights.children) (old as THREE.Mesh).geometry.dispose()
  lights.clear()
  for (const r of props.rings) {
    const [x, y, z] = r.at
    const [u, v, w] = r.direction
    const mesh = new THREE.Mesh(new THREE.TorusGeometry(r.radius / 1000, Math.max(radius * 0.006, r.radius / 12000), 8, 48), LIT)
    mesh.position.set(x / 1000, z / 1000, -y / 1000).sub(center)
    mesh.quaternion.setFromUnitVectors(new THREE.Vector3(0, 0, 1), new THREE.Vector3(u, w, -v))
    lights.add(mesh)
  }
  draw()
}
watch(() => props.rings, ring)

const ray = new THREE.Raycaster()
let pressed: { x: number; y: number } | null = null
const arrows = usePartArrows(scene, camera, draw)

function aim(event: PointerEvent) {
  const box = renderer!.domElement.getBoundingClientRect()
  ray.setFromCamera(new THREE.Vector2(((event.clientX - box.left) / box.width) * 2 - 1, 1 - ((event.clientY - box.top) / box.height) * 2), camera)
  return ray
}
/** From the scene (y up, in the glTF's units) to the model's own axes (z up), and a length of the scene in mm. */
const toModel = (v: THREE.Vector3): [number, number, number] => [v.x + 0, -v.z + 0, v.y + 0]
const mm = (length: number) => (props.diagonal ? (length * props.diagonal) / (2 * radius) : length)

function press(event: PointerEvent) {
  pressed = { x: event.clientX, y: event.clientY }
  if (!props.dragging || !renderer || event.button !== 0 || !arrows.grab(aim(event))) return
  if (controls) controls.enabled = false
  place.value!.setPointerCapture(event.pointerId)
}
function drag(event: PointerEvent) {
  if (!renderer || !props.dragging) return
  const moved = arrows.pull(aim(event))
  if (moved) emit('drag', toModel(moved.direction), mm(moved.distance), false)
  place.value!.style.cursor = arrows.near(aim(event)) ? 'move' : ''
}
/** A click on a face tells which way it looks and which way is up on the screen; or which part it is of. */
function release(event: PointerEvent) {
  if (!renderer) return
  const dragged = arrows.let_go(aim(event))
  if (controls) controls.enabled = true
  if (dragged) return emit('drag', toModel(dragged.direction), mm(dragged.distance), true)
  if (!pressed || Math.hypot(event.clientX - pressed.x, event.clientY - pressed.y) > 4 || !(props.picking || props.dragging)) return
  const hit = parts?.hit(aim(event)) ?? null
  if (props.dragging) return emit('part', hit?.path ?? '', event.shiftKey)
  if (!hit) return
  if (hit.normal.dot(ray.ray.direction) > 0) hit.normal.negate()
  emit('face', toModel(hit.normal), toModel(new THREE.Vector3(0, 1, 0).applyQuaternion(camera.quaternion)))
}

function light() {
  parts?.light(props.lit)
  arm()
}
watch(() => [props.lit, props.dragging], light)

/** Arrows at the middle of the chosen parts. */
function arm() {
  const box = parts && props.dragging ? parts.box(props.lit) : new THREE.Box3()
  arrows.show(box.isEmpty() ? null : box.getCenter(new THREE.Vector3()), radius * spread)
  draw()
  if (place.value) place.value.dataset.arrows = JSON.stringify(arrows.heads().map(({ way, at }) => ({ way: toModel(way), at: onScreen(at) })))
}
/** Where a place of the scene is in the picture, pixels. */
function onScreen(at: THREE.Vector3): [number, number] {
  camera.updateMatrixWorld()
  const p = at.clone().project(camera)
  return [((p.x + 1) / 2) * place.value!.clientWidth, ((1 - p.y) / 2) * place.value!.clientHeight]
}

/** Parts moved out of their places, mm in the model's own axes. */
function shift() {
  if (!parts) return
  const factor = props.diagonal ? (2 * radius) / props.diagonal : 0
  parts.move((path) => {
    const by = props.moves[path]
    return by ? new THREE.Vector3(by[0], by[2], -by[1]).multiplyScalar(factor) : null
  })
  if (!arrows.held()) {
    const sphere = parts.box().getBoundingSphere(new THREE.Sphere())
    spread = Math.max(1, sphere.radius / radius)
    const by = sphere.center.sub(middle)
    middle.add(by)
    camera.position.add(by)
    controls?.target.add(by)
    controls?.update()
    fit()
    arm()
  }
  draw()
}
watch(() => props.moves, shift)

onBeforeUnmount(() => {
  watcher?.disconnect()
  cancelAnimationFrame(due)
  parts?.dispose()
  controls?.dispose()
  renderer?.dispose()
})
</script>

<template>
  <div ref="place" class="preview" :data-state="state" data-test="preview" @pointerdown.capture="press" @pointermove="drag" @pointerup="release">
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
