<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import type { CookView } from '../api/schema.gen'
import { useThisTrial } from '../trial/trial'
import { dateTime, fromLocal } from '../ui/time'
import { differs } from './differs'
import type { Draft } from './draft'
import { spanText } from './rail'
import TwoPlans from './TwoPlans.vue'

/** The draft of a cook beside the cook as it stands. */
const { mine, theirs, runs } = defineProps<{ mine: Draft; theirs: Draft; runs: CookView['runs'] }>()
const emit = defineEmits<{ mine: []; theirs: [] }>()
const { trial } = useThisTrial()
const { data: pits } = useQuery({ queryKey: ['pits'], queryFn: () => ok(api.GET('/api/pits')) })
const rows = computed(() =>
  differs(mine, theirs, {
    pit: (id) => pits.value?.find((p) => p.id === id)?.name ?? runs.find((r) => r.pit_id === id)?.pit ?? '',
    cut: (id) => trial.value.cuts.find((c) => c.id === id)?.name ?? '',
    arm: (id) => trial.value.ask.arms.find((a) => a.id === id)?.tag ?? '',
    when: (local) => (local ? dateTime(fromLocal(local)) : ''),
    span: spanText,
  }),
)
</script>

<template>
  <TwoPlans :rows="rows" @mine="emit('mine')" @theirs="emit('theirs')" />
</template>
