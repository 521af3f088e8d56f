import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { useRoute } from 'vue-router'

/** Something typed that is not kept yet. */
export interface Kept {
  base: string // what it began from, as text
  value: unknown
  name: string // of the page
  path: string
}

const kept = useLocalStorage<Record<string, Kept>>('barn.drafts', {})

/** What is typed on this device and not kept yet, one a page. */
export const notKept = computed(() => [...new Map(Object.values(kept.value).map((k) => [k.path, k])).values()])

/**
 * Keeps what is typed over reads anew, back, reload and sign-out, until it is kept or let
 * go. typed is what there is, null while nothing is open; base is what it began from, as
 * text. restore gives what was typed before, if anything.
 */
export function useKept<T>(name: string, key: () => string, typed: Ref<T | null>, base: Ref<string>) {
  const route = useRoute()
  const path = route.fullPath
  /** How what was typed before came back. */
  const restored = ref<'' | 'as it was' | 'changed since'>('')
  const copy = (v: unknown) => JSON.parse(JSON.stringify(v)) as T
  const differs = () => typed.value !== null && JSON.stringify(typed.value) !== base.value

  function restore(): T | null {
    const was = kept.value[key()]
    restored.value = !was ? '' : was.base === base.value ? 'as it was' : 'changed since'
    return was ? copy(was.value) : null
  }
  function letGo(of = key()) {
    restored.value = ''
    if (!(of in kept.value)) return
    const rest = { ...kept.value }
    delete rest[of]
    kept.value = rest
  }
  // What was typed is looked at only once it changes: what waits from before stays.
  watch(
    typed,
    () => {
      if (differs()) kept.value = { ...kept.value, [key()]: { base: base.value, value: copy(typed.value), name, path } }
      else letGo()
    },
    { deep: true },
  )
  return { restore, restored, letGo }
}
