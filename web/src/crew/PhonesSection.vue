<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Checkbox from 'primevue/checkbox'
import { useAct } from '../api/act'
import { api, ok } from '../api/client'
import type { LanView } from '../api/schema.gen'
import { useSession } from '../session/session'
import ProblemNote from '../ui/ProblemNote.vue'

/** How phones and tablets come in. */
defineProps<{ network: LanView }>()
const client = useQueryClient()
const { session, isPitmaster } = useSession()
const secure = window.isSecureContext
const opening = useAct()

/** Guests are let in or not; what is typed above is not saved with it. */
async function letIn(guests: boolean) {
  const was = session.value!.barn!
  const done = await opening.run(async () => {
    await ok(api.PUT('/api/barn', { body: { ...was, guests } }))
    return true
  })
  if (done) await client.invalidateQueries({ queryKey: ['session'] })
}
</script>

<template>
  <section class="stack" data-testid="lan">
    <h2>Phones and tablets</h2>
    <template v-if="network.on">
      <div class="row wide">
        <img :src="`/api/lan/qr.png`" width="160" height="160" :alt="`Code of ${network.trust[0]}`" />
        <div class="stack">
          <p>
            A phone learns to trust this barn at <b class="num">{{ network.trust[0] }}</b>; then it opens
            <b class="num">{{ network.sites[0] }}</b>{{
              network.names.length ? ` (or by its name, ${network.names.at(-1)}, which passkeys need)` : ''
            }}, keeps its screen awake, tells of alarms and works while the barn is out of reach.
          </p>
          <p class="small">
            Compare the fingerprint on both screens:<br /><span class="num print">{{ network.fingerprint }}</span>
          </p>
        </div>
      </div>
      <div v-if="isPitmaster" class="stack tight">
        <ProblemNote :problem="opening.problem.value" />
        <label class="row"
          ><Checkbox :model-value="session?.barn?.guests" binary data-testid="guests" @update:model-value="letIn" />
          Guests open their ballots without a certificate</label
        >
        <p class="small">
          Their codes then lead to <b class="num">{{ network.guests[0] }}</b>, which answers ballots alone. It is not
          encrypted: somebody on this network could read or change a ballot on its way. A ballot that is open keeps and
          resends what is tapped; it cannot be opened while the barn is out of reach. All else stays behind HTTPS.
        </p>
      </div>
    </template>
    <p v-else>
      White Barn answers on this machine alone. Start it with <b class="num">make run LAN=1</b> to let the phones and
      tablets of the local network in, over HTTPS with a certificate of its own.
    </p>
    <p v-if="!secure" class="warn">
      Off on this address, since it is not a secure one: keeping the screen awake, notices of alarms, and opening White
      Barn while it is out of reach.
    </p>
  </section>
</template>

<style scoped>
.wide {
  align-items: flex-start;
  flex-wrap: nowrap;
}
.print {
  overflow-wrap: anywhere;
}
@media (max-width: 900px) {
  .wide {
    flex-wrap: wrap;
  }
}
</style>
