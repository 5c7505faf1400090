// The signs that a tracker can bear beside its name.
import {
  mdiAnchor,
  mdiBookOpenPageVariantOutline,
  mdiBridge,
  mdiCalendarBlankOutline,
  mdiClipboardTextOutline,
  mdiFlowerOutline,
  mdiHammerWrench,
  mdiHomeOutline,
  mdiImageFrame,
  mdiMapOutline,
  mdiMusicNote,
  mdiSignDirection,
  mdiTreeOutline,
  mdiWaterOutline,
} from '@mdi/js'

export const ICONS: Record<string, string> = {
  signpost: mdiSignDirection,
  bridge: mdiBridge,
  map: mdiMapOutline,
  anchor: mdiAnchor,
  water: mdiWaterOutline,
  tree: mdiTreeOutline,
  flower: mdiFlowerOutline,
  wrench: mdiHammerWrench,
  music: mdiMusicNote,
  frame: mdiImageFrame,
  book: mdiBookOpenPageVariantOutline,
  calendar: mdiCalendarBlankOutline,
  house: mdiHomeOutline,
  list: mdiClipboardTextOutline,
}

export const iconOf = (name: string | undefined) => ICONS[name ?? ''] ?? mdiClipboardTextOutline
