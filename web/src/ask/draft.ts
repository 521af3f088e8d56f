import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ok } from '../api/client'

/** What a new ask starts from: a copy of a trial, one that follows from it, or a card that is held against something. */
export function useDraft(enabled: boolean) {
  const route = useRoute()
  const trial = computed(() => Number(route.query.copy ?? route.query.follow ?? 0))
  const card = computed(() => Number(route.query.card ?? 0))
  const from = computed(() => trial.value || card.value)
  const { data: draft } = useQuery({
    queryKey: computed(() => ['draft', from.value, card.value, route.query.copy ? 'copy' : 'follow', route.query.arm]),
    queryFn: () =>
      card.value
        ? ok(api.GET('/api/book/versions/{id}/against', { params: { path: { id: card.value } } }))
        : ok(
            api.GET('/api/trials/{id}/draft', {
              params: {
                path: { id: trial.value },
                query: { as: route.query.copy ? 'copy' : 'follow', arm: Number(route.query.arm ?? 0) },
              },
            }),
          ),
    enabled: computed(() => enabled && from.value > 0),
    staleTime: Infinity,
  })
  return { from, card, draft }
}
