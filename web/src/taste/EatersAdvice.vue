<script setup lang="ts">
/** What eaters are told of meat below its usual minimum, on the phone and on paper alike. */
</script>

<template>
  <p class="warn triangle">
    <b>Some of it may be cooked below the usual minimum.</b>
  </p>
  <p>
    Eating undercooked meat raises the risk of food-borne illness. Leave it out if you are pregnant, over 65, very
    young, or your immune system is weak. Source: FDA Food Code 2022, 3-603.11.
  </p>
</template>
