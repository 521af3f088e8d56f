<script setup lang="ts">
import { useThisTrial } from '../trial/trial'
import SetUps from '../pits/SetUps.vue'
import SettlePage from './SettlePage.vue'

/** Meat is judged by its cuts; set-ups by what their burns tell. */
const { trial } = useThisTrial()
</script>

<template>
  <SetUps v-if="trial.ask.kind === 'set-ups'" />
  <SettlePage v-else />
</template>
