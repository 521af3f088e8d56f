import { computed, inject, type InjectionKey, type Ref } from 'vue'
import type { Arm, CutView, TrialView } from '../api/schema.gen'
import type { Changed, Part } from '../api/trials'

export const trialKey: InjectionKey<{
  trial: Ref<TrialView | undefined>
  set: (v: Changed | undefined) => TrialView | undefined
  refresh: (...which: Part[]) => Promise<void>
}> = Symbol('trial')

/** The trial of the frame around this step; the frame shows steps only once it is there. */
export function useThisTrial() {
  const { trial, set, refresh } = inject(trialKey)!
  // While another trial is being read, a step that is about to go keeps what it had.
  const t = computed<TrialView>((before) => trial.value ?? before!)
  return {
    trial: t,
    set,
    refresh,
    /** Place of a cut's arm from 0, -1 while it has none. */
    armOf: (c: Pick<CutView, 'arm_id'>) => t.value.ask.arms.findIndex((a) => a.id === c.arm_id),
    shut: computed(() => t.value.revealed_at !== null),
  }
}

export const weighingAt = (c: CutView, stage: string) => c.weighings.find((w) => w.stage === stage)

export const dimensionOf = (c: CutView, kind: string) => c.dimensions.find((d) => d.kind === kind)

/** What an arm does, in one line. */
export const armName = (a: Arm) => a.levels.map((l) => l.value).join(', ')
