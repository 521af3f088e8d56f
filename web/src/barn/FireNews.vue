<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { clock } from '../ui/time'
import { sentence } from '../ui/units'

/** Of a cook that burns: what nobody has seen yet, and what is due next. */
const { cook } = defineProps<{ cook: number }>()
const at = { params: { path: { id: cook } } }
const { data: alarms } = useQuery({
  queryKey: computed(() => ['alarms', cook]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/alarms', at)),
})
const { data: due } = useQuery({
  queryKey: computed(() => ['due', cook]),
  queryFn: () => ok(api.GET('/api/cooks/{id}/due', at)),
  refetchInterval: 60_000,
})
const now = useNow({ interval: 10_000 })
const unseen = computed(() => (alarms.value ?? []).filter((a) => !a.seen_at && !a.over_at))
const next = computed(() => due.value?.due.slice(0, 3) ?? [])
const who = (person: number) => (person >= 0 ? (due.value?.people[person] ?? '') : 'nobody yet')
</script>

<template>
  <div v-if="unseen.length || next.length" class="news">
    <p v-for="a in unseen" :key="a.id" class="triangle alarm">
      <span class="num">{{ clock(a.at) }}</span> {{ sentence(a.words) }}
    </p>
    <p v-for="d in next" :key="`${d.act}${d.arm}${d.pit}`" :class="{ hot: Date.parse(d.at.middle) <= +now }">
      <b class="num">{{ clock(d.at.middle) }}</b> {{ d.words }} <span class="soft">{{ who(d.person) }}</span>
    </p>
  </div>
</template>

<style scoped>
.news {
  flex-basis: 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 28px;
}
.news p {
  display: flex;
  gap: 8px;
}
.alarm {
  flex-basis: 100%;
  font-weight: 700;
}
.hot b {
  color: var(--ember-on-iron);
}
.soft {
  color: var(--on-iron-2);
}
</style>
