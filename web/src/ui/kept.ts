import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { useRoute } from 'vue-router'
import { Drafts, type Kept } from './drafts'
import { shelfOf } from './shelf'

const drafts = new Drafts(shelfOf(useLocalStorage<Record<string, Kept>>('barn.drafts', {})))

/** What is typed on this device and not kept yet, one a page. */
export const notKept = computed(() => drafts.pages())

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

  function restore(): T | null {
    const was = drafts.find<T>(key(), base.value)
    restored.value = !was ? '' : was.changed ? 'changed since' : 'as it was'
    return was && was.value
  }
  function letGo(of = key()) {
    restored.value = ''
    drafts.letGo(of)
  }
  // What was typed is looked at only once it changes: what waits from before stays.
  watch(
    typed,
    () => {
      if (!drafts.keep(key(), typed.value, { base: base.value, name, path })) restored.value = ''
    },
    { deep: true },
  )
  return { restore, restored, letGo }
}
