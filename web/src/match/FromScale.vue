<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed } from 'vue'
import { api, ok } from '../api/client'
import { weight } from '../ui/units'

/** Offers what a scale of the barn shows, where there is one. */
const emit = defineEmits<{ take: [string] }>()
const { data } = useQuery({
  queryKey: ['scales'],
  queryFn: () => ok(api.GET('/api/scales')),
})
const shows = computed(() => data.value?.filter((s) => s.kg !== null && s.kg > 0) ?? [])
</script>

<template>
  <Button
    v-for="s in shows"
    :key="s.id"
    size="small"
    outlined
    :aria-label="`Take ${weight(s.kg!)} from ${s.channel}`"
    @click="emit('take', weight(s.kg!))"
    >{{ s.channel }} shows <b class="num">{{ weight(s.kg!) }}</b>: take it</Button
  >
</template>
