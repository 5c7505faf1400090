// How days and numbers are written, to choose from.
import type { Customs } from '@/api/types'
import type { PickItem } from '@/features/menu/pick'

const NAMES: Record<Customs, string> = {
  'en-GB': 'as in Britain',
  'en-US': 'as in America',
  'de-DE': 'as in Germany',
  'de-CH': 'as in Switzerland',
  'fr-FR': 'as in France',
  'nl-NL': 'as in the Netherlands',
  'sv-SE': 'as in Sweden',
}
export const CUSTOMS: PickItem<Customs>[] = (Object.keys(NAMES) as Customs[]).map((value) => ({ value, title: NAMES[value] }))
