<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { api, ok } from '../api/client'
import { useSession } from '../session/session'
import BarnForm from './BarnForm.vue'
import GuestList from './GuestList.vue'
import InviteForm from './InviteForm.vue'
import MemberList from './MemberList.vue'
import PhonesSection from './PhonesSection.vue'
import SafetyLines from './SafetyLines.vue'

const { isPitmaster } = useSession()
const { data: people } = useQuery({ queryKey: ['people'], queryFn: () => ok(api.GET('/api/people')) })
const { data: network } = useQuery({ queryKey: ['lan'], queryFn: () => ok(api.GET('/api/lan')) })
</script>

<template>
  <div v-if="people && network" class="page stack">
    <div class="row">
      <h1>Crew</h1>
      <RouterLink to="/you">Your units, password and devices</RouterLink>
      <RouterLink to="/history">Who did what</RouterLink>
    </div>
    <MemberList :people="people" />
    <InviteForm v-if="isPitmaster" />
    <GuestList v-if="isPitmaster" />
    <BarnForm v-if="isPitmaster" />
    <SafetyLines />
    <PhonesSection :network="network" />
  </div>
</template>
