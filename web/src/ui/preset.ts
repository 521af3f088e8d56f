import { definePreset } from '@primeuix/themes'
import autocomplete from '@primeuix/themes/aura/autocomplete'
import base from '@primeuix/themes/aura/base'
import button from '@primeuix/themes/aura/button'
import checkbox from '@primeuix/themes/aura/checkbox'
import chip from '@primeuix/themes/aura/chip'
import datepicker from '@primeuix/themes/aura/datepicker'
import dialog from '@primeuix/themes/aura/dialog'
import inputtext from '@primeuix/themes/aura/inputtext'
import listbox from '@primeuix/themes/aura/listbox'
import popover from '@primeuix/themes/aura/popover'
import radiobutton from '@primeuix/themes/aura/radiobutton'
import ripple from '@primeuix/themes/aura/ripple'
import select from '@primeuix/themes/aura/select'
import selectbutton from '@primeuix/themes/aura/selectbutton'
import slider from '@primeuix/themes/aura/slider'
import togglebutton from '@primeuix/themes/aura/togglebutton'
import virtualscroller from '@primeuix/themes/aura/virtualscroller'

// Only the parts that are used: the whole set is a third of all the script there is.
const parts = {
  autocomplete,
  button,
  checkbox,
  chip,
  datepicker,
  dialog,
  inputtext,
  listbox,
  popover,
  radiobutton,
  ripple,
  select,
  selectbutton,
  slider,
  togglebutton,
  virtualscroller,
}

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

export const preset = definePreset(
  { ...base, components: parts },
  {
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
  },
)
