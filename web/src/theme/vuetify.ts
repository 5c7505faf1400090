// Vuetify, themed from the tokens: its colours are read from the stylesheet, so that there is one place for them.
import 'vuetify/styles'
import { mdiMenuDown } from '@mdi/js'
import { createVuetify } from 'vuetify'
import { watch } from 'vue'
import { dark } from './own'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

/** A colour as it is now, light or dark, as Vuetify reads it. */
function token(name: string): string {
  const probe = document.createElement('i')
  probe.style.color = `var(--${name})`
  document.documentElement.append(probe)
  const parts = /^rgb\((\d+), (\d+), (\d+)\)$/.exec(getComputedStyle(probe).color)?.slice(1) ?? []
  probe.remove()
  return parts.length ? `#${parts.map((part) => Number(part).toString(16).padStart(2, '0')).join('')}` : '#777777'
}

function colours() {
  return {
    background: token('stone'),
    surface: token('sheet'),
    primary: token('moss'),
    'on-primary': token('moss-ink'),
    secondary: token('copper'),
    error: token('fault'),
    'on-error': token('sheet'),
    'on-surface': token('ink'),
    'on-background': token('ink'),
  }
}

const own = () => ({
  dark: dark.value,
  colors: colours(),
  variables: { 'high-emphasis-opacity': 1, 'medium-emphasis-opacity': 0.8 },
})

export function makeVuetify() {
  const vuetify = createVuetify({
    icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
    theme: {
      cspNonce: document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content,
      defaultTheme: 'own',
      themes: { own: own() },
    },
    defaults: {
      VBtn: { variant: 'flat', rounded: 'sm', ripple: false, style: 'text-transform:none;letter-spacing:0' },
      VTextField: { class: 'pick', variant: 'solo', flat: true, density: 'compact', hideDetails: 'auto' },
      VTextarea: { class: 'pick', variant: 'solo', flat: true, density: 'compact', hideDetails: 'auto', autoGrow: true, rows: 2 },
      VSelect: { variant: 'solo', flat: true, density: 'compact', hideDetails: true, menuIcon: mdiMenuDown },
      VAutocomplete: {
        menuIcon: mdiMenuDown,
        class: 'pick',
        variant: 'solo',
        flat: true,
        density: 'compact',
        hideDetails: 'auto',
        listProps: {
          class: 'pick-list',
          'aria-label': 'What can be chosen',
        },
      },
      VCheckbox: { density: 'compact', hideDetails: true, color: 'primary' },
      VSwitch: { density: 'compact', hideDetails: true, color: 'primary', inset: true },
      VMenu: { transition: false },
      VDialog: { transition: false },
    },
  })
  // The stylesheet follows by itself, at once.
  watch(
    dark,
    () => {
      const known = vuetify.theme.themes.value.own!
      const { colors, ...rest } = own()
      vuetify.theme.themes.value.own = { ...known, ...rest, colors: { ...known.colors, ...colors } }
    },
    { flush: 'post' },
  )
  return vuetify
}
