<script setup lang="ts" generic="T extends { path: string; name: string; children?: T[] }">
// A tree of parts and groups, however many: as tall as what it shows, up to a limit, then it scrolls.
import { computed, ref } from 'vue'

const props = defineProps<{ nodes: T[]; rowHeight: number; most: number }>()
const emit = defineEmits<{ choose: [node: T] }>()
const open = ref(new Set<string>())
const count = (nodes: T[]): number => nodes.reduce((n, node) => n + 1 + (node.children && open.value.has(node.path) ? count(node.children) : 0), 0)
const height = computed(() => Math.min(count(props.nodes) * props.rowHeight + 4, props.most))
function turn(node: unknown, on: boolean) {
  const next = new Set(open.value)
  if (on) next.add((node as T).path)
  else next.delete((node as T).path)
  open.value = next
}
</script>

<template>
  <el-tree-v2
    :data="nodes" :props="{ value: 'path', label: 'name', children: 'children' }" :height="height" :item-size="rowHeight" :indent="14" :expand-on-click-node="false" class="tree"
    @node-click="(n: unknown) => emit('choose', n as T)" @node-expand="(n: unknown) => turn(n, true)" @node-collapse="(n: unknown) => turn(n, false)"
  >
    <template #default="{ data }"><slot :node="data as T"><span class="name" :title="(data as T).name">{{ (data as T).name }}</span></slot></template>
  </el-tree-v2>
</template>

<style scoped>
.tree {
  background: none;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
