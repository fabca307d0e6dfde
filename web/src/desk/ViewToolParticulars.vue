<script setup lang="ts">
// Choices of the view tool in hand: the way it looks, what the section cuts, how a detail is bounded.
import { computed, defineAsyncComponent } from 'vue'
import { PLACES } from '@/words'
import { DIRECTIONS, seenFrom, type V3 } from './directions'
import PatternChoice from './PatternChoice.vue'
import { useDesk } from './store'
import { SET_VIEWS, setPlace, type SetView } from './standardSet'
import { useViewTools } from './viewTools'

const ModelPreview = defineAsyncComponent(() => import('@/model/ModelPreview.vue'))
const desk = useDesk()
const views = useViewTools()
const o = views.options
const NAMES: Record<string, string> = {
  main: 'Main view', set: 'Standard set', projected: 'Projected view', section: 'Section', auxiliary: 'Auxiliary view', detail: 'Detail', breakout: 'Broken-out section', web: 'Web left whole',
  interrupt: 'Interrupted view', hatch: 'Hatching', part: 'Part of an edge',
}
const looking = computed(() => views.tool === 'main' || views.tool === 'set')
const choices = computed(() => DIRECTIONS.map((d, index) => ({ ...d, index })).filter((d) => views.tool === 'main' || !d.pictorial))
const principal = computed(() => choices.value.filter((d) => !d.pictorial))
const pictorial = computed(() => choices.value.filter((d) => d.pictorial))

/** The face's own direction, made exactly square to the model's axes where it nearly is; upright as on the screen. */
function pickFace(normal: V3, up: V3) {
  const clean = (v: V3) => v.map((x) => (Math.abs(x) < 1e-4 ? 0 : Math.abs(Math.abs(x) - 1) < 1e-6 ? Math.sign(x) : x)) as V3
  const n = clean(normal)
  const axes: V3[] = [[0, 0, 1], [0, 1, 0], [1, 0, 0], [0, 0, -1], [0, -1, 0], [-1, 0, 0]]
  const free = axes.filter((a) => Math.abs(a[0] * n[0] + a[1] * n[1] + a[2] * n[2]) < 0.9)
  const best = free.sort((a, b) => b[0] * up[0] + b[1] * up[1] + b[2] * up[2] - (a[0] * up[0] + a[1] * up[1] + a[2] * up[2]))[0]
  views.look(seenFrom(n, best))
}
function member(name: SetView, on: boolean) {
  o.members = on ? [...views.members, name] : views.members.filter((m) => m !== name)
  void views.ask()
}
</script>

<template>
  <div data-test="tool-particulars">
    <h2>{{ NAMES[views.tool ?? 'main'] }}</h2>
    <template v-if="looking">
      <p class="quiet sub">Pick the face to look at, or a direction</p>
      <div class="model"><ModelPreview v-if="desk.drawing" :url="`/api/models/${desk.drawing.model}/preview.glb`" :lit="[]" picking @face="pickFace" /></div>
      <div class="choices turns">
        <button class="pill" title="A quarter turn of the picture (Q)" data-test="quarter-turn" @click="views.turnBy('clockwise')">turn</button>
        <button class="pill" @click="views.turnBy('left')">roll left</button>
        <button class="pill" @click="views.turnBy('right')">roll right</button>
        <button class="pill" @click="views.turnBy('up')">tip up</button>
        <button class="pill" @click="views.turnBy('down')">tip down</button>
      </div>
      <div class="choices section">
        <button v-for="d in principal" :key="d.name" class="pill" :class="{ on: !views.own && d.index === views.direction }" @click="views.chooseDirection(d.index)">{{ d.name }}</button>
      </div>
      <div v-if="pictorial.length" class="section">
        <el-select :model-value="DIRECTIONS[views.direction].pictorial && !views.own ? views.direction : ''" placeholder="pictorial …" data-test="pictorial" @change="views.chooseDirection">
          <el-option v-for="d in pictorial" :key="d.name" :value="d.index" :label="d.name" />
        </el-select>
      </div>
      <div v-if="views.tool === 'set'" class="section">
        <p class="quiet sub">Views beside the main view</p>
        <el-checkbox v-for="m in SET_VIEWS" :key="m" class="member" :model-value="views.members.includes(m)" :data-test="`member-${setPlace(m, views.projection)}`" @change="(v) => member(m, Boolean(v))">
          {{ m.startsWith('from') ? 'pictorial, ' : '' }}{{ m }}<span class="quiet">, {{ m === 'rear' ? 'beyond the side' : PLACES[setPlace(m, views.projection)] }}</span>
        </el-checkbox>
      </div>
    </template>
    <template v-else-if="views.tool === 'section'">
      <p class="quiet sub">The line it is cut along</p>
      <div class="choices">
        <button v-for="f in ['straight', 'aligned', 'half'] as const" :key="f" class="pill" :class="{ on: o.form === f }" :data-test="`form-${f}`" @click="o.form = f">{{ f === 'straight' ? 'straight, stepped' : f === 'aligned' ? 'bent, turned flat' : 'half' }}</button>
      </div>
      <div class="row section"><span class="label">Only the cut</span><el-switch v-model="o.onlyCut" @change="views.ask()" /></div>
      <div class="row"><span class="label">Removed</span><el-switch v-model="o.removed" data-test="removed" @change="views.ask()" /></div>
      <p class="quiet note">A removed section stands anywhere on the sheet and shows only the cut.</p>
    </template>
    <template v-else-if="views.tool === 'auxiliary'">
      <p class="quiet sub">Shows the face square to the picked line in its true shape</p>
      <div class="row"><span class="label">Only that face</span><el-switch v-model="o.onlyFace" data-test="only-face" @change="views.ask()" /></div>
    </template>
    <template v-else-if="views.tool === 'detail'">
      <p class="quiet sub">Its outline</p>
      <div class="choices">
        <button v-for="s in ['circle', 'rectangle', 'free'] as const" :key="s" class="pill" :class="{ on: o.shape === s }" :data-test="`shape-${s}`" @click="o.shape = s">{{ s }}</button>
      </div>
      <div class="row section"><span class="label">Jagged border</span><el-switch v-model="o.jagged" @change="views.ask()" /></div>
    </template>
    <template v-else-if="views.tool === 'interrupt'">
      <p class="quiet sub">The break line</p>
      <div class="choices">
        <button v-for="l in ['freehand', 'zigzag', 'round', 'tube'] as const" :key="l" class="pill" :class="{ on: o.line === l }" @click="o.line = l">{{ l }}</button>
      </div>
    </template>
    <PatternChoice v-else-if="views.tool === 'hatch'" v-model:pattern="o.pattern" v-model:angle="o.angle" v-model:spacing="o.spacing" />
    <p v-else class="quiet sub">{{ views.tool === 'breakout' ? 'Click around the place, then tell how deep.' : views.tool === 'web' ? 'Sections along a rib or web do not hatch it; its sides are drawn where it meets the cut.' : 'The prompt below says what comes next.' }}</p>
  </div>
</template>

<style scoped>
.model {
  position: relative;
  height: 190px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--paper);
  margin-bottom: 8px;
  cursor: pointer;
}
.turns {
  margin-bottom: 4px;
}
.section.choices {
  padding-top: 12px;
}
.member {
  display: flex;
  height: 26px;
  margin: 0;
}
.note {
  margin: 4px 0 0;
}
</style>
