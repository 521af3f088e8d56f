<script setup lang="ts">
import { useThisTrial } from '../trial/trial'
import BurnPlan from './BurnPlan.vue'
import PlanPage from './PlanPage.vue'

/** A cook is planned back from its table; burns without meat are laid on days. */
const { trial } = useThisTrial()
</script>

<template>
  <BurnPlan v-if="trial.ask.kind === 'set-ups'" />
  <PlanPage v-else />
</template>
