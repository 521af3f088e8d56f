<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { HolderView } from '../api/schema.gen'
import MomentInput from '../ui/MomentInput.vue'
import ProblemNote from '../ui/ProblemNote.vue'
import { fromLocal, toLocal } from '../ui/time'
import { degrees, temperature, withTemperatureUnit } from '../ui/units'
import { system } from '../ui/settings'

/** A covered pan of water goes into a holder, with a probe in it. */
const { view } = defineProps<{ view: HolderView }>()
const emit = defineEmits<{ put: [HolderView] }>()
const { run, busy, problem } = useAct()
const probe = ref<number | null>(view.probes.length === 1 ? view.probes[0]!.id : null)
const last = view.calibrations[0]
const dial = ref('')
const target = ref(last ? last.target_typed : '')
const at = ref('')
const probes = computed(() =>
  view.probes.map((p) => ({
    id: p.id,
    label: `${p.channel} of ${p.device}${p.c === null ? '' : `, ${temperature(p.c)}`}`,
  })),
)
async function put() {
  const v = await run(() =>
    ok(
      api.POST('/api/holders/{id}/calibrations', {
        params: { path: { id: view.holder.id } },
        body: {
          probe_id: probe.value ?? 0,
          dial: withTemperatureUnit(dial.value),
          target: withTemperatureUnit(target.value),
          put_in_at: at.value ? fromLocal(at.value) : null,
          months: 0,
        },
      }),
    ),
  )
  if (v) emit('put', v)
}
</script>

<template>
  <form class="board stack" data-testid="pan-form" @submit.prevent="put">
    <h2>Put a pan in</h2>
    <p>
      A covered pan of water stands in for the meat: 8 lb or more, where the meat will lie, a probe in the middle of the
      water. Where it settles is known hours before it is there. Carry it empty and fill it there: hot water scalds.
    </p>
    <ProblemNote :problem="problem" />
    <p v-if="!probes.length" class="warn">No probe sends now. Add a device under Pits, or switch one on.</p>
    <div class="row">
      <div class="field" data-field="probe_id">
        <label for="pan-probe">Probe in the water</label>
        <Select
          v-model="probe"
          input-id="pan-probe"
          :options="probes"
          option-label="label"
          option-value="id"
          placeholder="which"
          aria-label="Probe in the water"
        />
      </div>
      <div class="field" data-field="dial">
        <label for="pan-dial">Dial at</label>
        <InputText id="pan-dial" v-model="dial" class="mono-input short" :placeholder="`160 ${system}`" />
      </div>
      <div class="field" data-field="target">
        <label for="pan-target">To hold</label>
        <InputText
          id="pan-target"
          v-model="target"
          class="mono-input short"
          :placeholder="`${degrees(65.56)} ${system}`"
        />
      </div>
      <div class="field" data-field="put_in_at">
        <span class="small">Put in at; empty is now</span>
        <MomentInput v-model="at" label="Put in at" :day="toLocal(view.now).slice(0, 10)" />
      </div>
      <Button type="submit" label="Put it in" :loading="busy" :disabled="!probe || !dial.trim() || !target.trim()" />
    </div>
  </form>
</template>

<style scoped>
.short {
  width: 96px;
}
.row {
  align-items: end;
  gap: 12px 16px;
}
</style>
