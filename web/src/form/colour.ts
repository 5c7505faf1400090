// A form's or a page's own colour, made dark enough that white text on it can be read.

type Rgb = [number, number, number]

const parts = (hex: string): Rgb => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16)) as Rgb

/** Relative luminance, by WCAG 2.2. */
function luminance(rgb: Rgb): number {
  const [r, g, b] = rgb.map((part) => {
    const share = part / 255
    return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
  }) as Rgb
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

/** Contrast of a colour with white, from 1 to 21. */
export function contrastWithWhite(hex: string): number {
  return 1.05 / (luminance(parts(hex)) + 0.05)
}

/** The colour, or the nearest darker one of its hue on which white text has a contrast of 4.5. */
export function readable(hex: string): string {
  let rgb = parts(hex)
  while (1.05 / (luminance(rgb) + 0.05) < 4.5) rgb = rgb.map((part) => Math.floor(part * 0.95)) as Rgb
  return `#${rgb.map((part) => part.toString(16).padStart(2, '0')).join('')}`
}

/** What stands in place of the accent where a page or a form has a colour of its own. */
export function accents(own: string | null | undefined): Record<string, string> | undefined {
  if (!own) return undefined
  const dark = readable(own)
  const light = `color-mix(in srgb, ${dark} 40%, white)`
  return {
    '--moss': `light-dark(${dark}, ${light})`,
    '--moss-ink': 'light-dark(#ffffff, #1b1d18)',
    '--moss-soft': `color-mix(in srgb, ${dark} 12%, var(--sheet))`,
  }
}
