import { definePreset } from '@primeuix/themes'
import Aura from '@primeuix/themes/aura'

// PrimeVue's parts take the barn's tokens; those change with the theme by
// themselves, so one scheme serves day and night.
const scheme = {
  primary: {
    color: 'var(--ink)',
    contrastColor: 'var(--board)',
    hoverColor: 'var(--ink)',
    activeColor: 'var(--ink)',
  },
  highlight: {
    background: 'var(--ink)',
    focusBackground: 'var(--ink)',
    color: 'var(--board)',
    focusColor: 'var(--board)',
  },
  surface: {
    0: 'var(--board)',
    50: 'var(--lime)',
    100: 'var(--trough)',
    200: 'var(--trough)',
    300: 'var(--grain)',
    400: 'var(--edge)',
    500: 'var(--edge)',
    600: 'var(--soot)',
    700: 'var(--ink)',
    800: 'var(--ink)',
    900: 'var(--ink)',
    950: 'var(--ink)',
  },
  text: { color: 'var(--ink)', hoverColor: 'var(--ink)', mutedColor: 'var(--soot)', hoverMutedColor: 'var(--soot)' },
  content: {
    background: 'var(--board)',
    hoverBackground: 'var(--trough)',
    borderColor: 'var(--edge)',
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
  },
  overlay: {
    select: { background: 'var(--board)', borderColor: 'var(--ink)', color: 'var(--ink)' },
    popover: { background: 'var(--board)', borderColor: 'var(--ink)', color: 'var(--ink)' },
    modal: { background: 'var(--board)', borderColor: 'var(--ink)', color: 'var(--ink)' },
  },
  formField: {
    background: 'var(--board)',
    disabledBackground: 'var(--trough)',
    borderColor: 'var(--edge)',
    hoverBorderColor: 'var(--ink)',
    focusBorderColor: 'var(--ink)',
    invalidBorderColor: 'var(--alarm)',
    color: 'var(--ink)',
    disabledColor: 'var(--soot)',
    placeholderColor: 'var(--soot)',
    shadow: 'none',
  },
}

const outlined = { primary: { borderColor: 'var(--ink)', color: 'var(--ink)', hoverBackground: 'var(--trough)' } }
const buttons = { outlined, text: { primary: { color: 'var(--ink)', hoverBackground: 'var(--trough)' } } }
const toggles = {
  root: {
    background: 'var(--board)',
    checkedBackground: 'var(--ink)',
    hoverBackground: 'var(--trough)',
    borderColor: 'var(--edge)',
    checkedBorderColor: 'var(--ink)',
    color: 'var(--ink)',
    hoverColor: 'var(--ink)',
    checkedColor: 'var(--board)',
  },
  content: { checkedBackground: 'var(--ink)' },
}

export const preset = definePreset(Aura, {
  primitive: { borderRadius: { none: '0', xs: '3px', sm: '3px', md: '6px', lg: '0', xl: '0' } },
  semantic: {
    focusRing: { width: '3px', style: 'solid', color: 'var(--focus)', offset: '2px', shadow: 'none' },
    formField: { paddingX: '0.7rem', paddingY: '0.55rem', borderRadius: '6px' },
    overlay: { select: { shadow: 'none', borderRadius: '0' }, modal: { shadow: 'none', borderRadius: '0' } },
    colorScheme: { light: scheme, dark: scheme },
  },
  components: {
    button: {
      root: { borderRadius: '6px', label: { fontWeight: '700' }, raisedShadow: 'none' },
      colorScheme: { light: buttons, dark: buttons },
    },
    togglebutton: {
      root: { borderRadius: '6px', padding: '0.35rem 0.6rem', fontWeight: '700' },
      colorScheme: { light: toggles, dark: toggles },
      content: { padding: '0', borderRadius: '0', checkedShadow: 'none' },
    },
  },
})
