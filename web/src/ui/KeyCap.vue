<template>
  <kbd aria-hidden="true"><slot /></kbd>
</template>

<style scoped>
kbd {
  font: 700 13px/1 var(--font-num);
  border: 1.5px solid currentColor;
  border-radius: var(--r-1);
  padding: 3px 6px;
  min-width: 22px;
  display: inline-block;
  text-align: center;
}
@media (max-width: 600px) {
  kbd {
    display: none;
  }
}
</style>
