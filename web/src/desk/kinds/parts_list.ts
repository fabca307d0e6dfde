// Parts lists have a panel of their own, for their columns and rows.
import ListParticulars from '../ListParticulars.vue'
import type { KindOnDesk } from './kind'

export default { kinds: ['parts_list'], panel: ListParticulars } satisfies KindOnDesk
