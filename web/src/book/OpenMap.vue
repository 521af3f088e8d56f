<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { KnowChosen, MapCell, MapView } from '../api/schema.gen'
import { sentence } from '../ui/units'

/** The open map: factors down, products across; what is settled, what is asked, and what never was. */
const props = defineProps<{ map: MapView; here: KnowChosen }>()
const emit = defineEmits<{ pick: [product: number, factor: number] }>()
const router = useRouter()
const cell = (p: number, f: number): MapCell | undefined =>
  props.map.cells.find((c) => c.product_id === p && c.factor_id === f)
const isHere = (p: number, f: number) => props.here.product_id === p && props.here.factor_id === f
const shown = computed(() => cell(props.here.product_id, props.here.factor_id))
const series = ref(false)
</script>

<template>
  <section class="map" data-testid="map">
    <div class="row">
      <h2>The open map</h2>
      <span class="small"
        ><i class="piece full" /> <b class="num">{{ map.settled }}</b> settled</span
      >
      <span class="small"
        ><i class="piece" /> <b class="num">{{ map.open }}</b> open</span
      >
      <span class="small"
        ><i class="dot" /> <b class="num">{{ map.never }}</b> never tried</span
      >
    </div>
    <p v-if="map.products.length === 0" class="soot">
      Nothing was asked yet. The first question draws the first square.
    </p>
    <div v-else class="scroll-x">
      <table>
        <thead>
          <tr>
            <th />
            <th v-for="p in map.products" :key="p.id">
              <b>{{ p.name }}</b>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in map.factors" :key="f.id">
            <th scope="row">{{ f.name }}</th>
            <td v-for="p in map.products" :key="p.id" :class="{ here: isHere(p.id, f.id) }">
              <button
                v-if="cell(p.id, f.id)"
                type="button"
                :data-testid="`cell-${p.id}-${f.id}`"
                @click="emit('pick', p.id, f.id)"
              >
                <span v-if="cell(p.id, f.id)!.settled"
                  ><i class="piece full" /> <b class="num">{{ cell(p.id, f.id)!.settled }}</b> settled
                </span>
                <span v-if="cell(p.id, f.id)!.open"
                  ><i class="piece" /> <b class="num">{{ cell(p.id, f.id)!.open }}</b> open</span
                >
                <span class="small says">{{ cell(p.id, f.id)!.says }}</span>
              </button>
              <button
                v-else
                type="button"
                :aria-label="`${f.name} of ${p.name}: never tried. Ask it`"
                @click="router.push('/trials/new')"
              >
                <i class="dot" />
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <details v-if="shown && shown.series.length > 1" :open="series" data-testid="series">
      <summary>Its {{ shown.series.length }} trials as one story</summary>
      <ol>
        <li v-for="s in shown.series" :key="s.trial_id">
          <RouterLink :to="`/trials/${s.trial_id}/${s.settled ? 'settle' : 'ask'}`"
            ><b>{{ s.question }}</b></RouterLink
          >
          <span v-if="s.follows_id" class="small soot"> follows from trial {{ s.follows_id }}</span>
          <p class="small">{{ s.headline ? sentence(s.headline) : 'open' }}</p>
        </li>
      </ol>
    </details>
  </section>
</template>

<style scoped>
.map {
  padding: 10px 16px;
  min-width: 0;
}
td {
  background: var(--board);
  border: var(--line) solid var(--grain);
  padding: 0;
  white-space: normal !important;
  min-width: 130px;
}
td.here {
  outline: 3px solid var(--ink);
  outline-offset: -3px;
}
td button {
  all: unset;
  cursor: pointer;
  display: block;
  min-height: 52px;
  padding: 6px 10px;
  box-sizing: border-box;
  width: 100%;
}
td button:focus-visible {
  outline: 3px solid var(--focus);
}
th[scope='row'] {
  color: var(--ink);
  font-size: 15px;
}
.says {
  display: block;
}
.piece {
  display: inline-block;
  width: 22px;
  height: 13px;
  border: 2px solid var(--ink);
}
.piece.full {
  background: var(--ink);
  clip-path: polygon(0 0, 35% 0, 50% 40%, 65% 0, 100% 0, 100% 100%, 0 100%);
}
.dot {
  display: inline-block;
  width: 8px;
  height: 8px;
  border-radius: 50%;
  background: var(--edge);
}
</style>
