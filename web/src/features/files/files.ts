// What a file is to whoever looks at it: what of it is shown in place, what it is called, how large it is.
import type { components } from '@/api/schema'
import { figure } from '@/theme/own'

export type Attachment = components['schemas']['Attachment']

/** How a file is shown: as itself, or only named. */
export type Shown = 'picture' | 'pdf' | 'text' | 'sound' | 'film' | 'address' | 'named'

const ADDRESS = 'text/uri-list'
const PICTURES = new Set(['image/jpeg', 'image/png', 'image/webp', 'image/gif'])

const NAMES: Record<Exclude<Shown, 'named'>, string> = {
  picture: 'picture',
  pdf: 'PDF',
  text: 'text',
  sound: 'recording',
  film: 'film',
  address: 'address',
}

/** What other kinds of files are called, by the ending of their name. */
const ENDINGS: Record<string, string> = {
  docx: 'document',
  odt: 'document',
  doc: 'document',
  xlsx: 'workbook',
  ods: 'workbook',
  pptx: 'slides',
  odp: 'slides',
  zip: 'archive',
}

export function shownAs(file: Attachment): Shown {
  const { media } = file
  if (media === ADDRESS) return 'address'
  if (PICTURES.has(media)) return 'picture'
  if (media === 'application/pdf') return 'pdf'
  if (media === 'text/plain') return 'text'
  if (media.startsWith('audio/')) return 'sound'
  if (media.startsWith('video/')) return 'film'
  return 'named'
}

export const isPicture = (file: Attachment) => shownAs(file) === 'picture'

/** *PDF, 1.2 MB*. */
export function facts(file: Attachment): string {
  const shown = shownAs(file)
  const kind = shown === 'named' ? (ENDINGS[file.name.split('.').pop()!.toLowerCase()] ?? 'file') : NAMES[shown]
  return file.size ? `${kind}, ${sizeText(file.size)}` : kind
}

/** A size as one says it. */
export function sizeText(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`
  if (bytes < 1_000_000) return `${figure(Math.round(bytes / 1000))} kB`
  return `${figure(Math.round(bytes / 100_000) / 10)} MB`
}

/** Where a file is got from: to be looked at, small, or to be kept. */
export function addressOf(file: Attachment, how?: 'small' | 'keep'): string {
  if (shownAs(file) === 'address') return file.id
  return `/api/files/${file.id}${how ? `?${how}=true` : ''}`
}

/** An address with a title, to stand among files. */
export const addressAs = (address: string, title: string): Attachment => ({
  id: address,
  name: title.trim() || address,
  media: ADDRESS,
  size: 0,
})

/** The files of a drop or a paste, if there are any. */
export const filesOf = (data: DataTransfer | null): File[] => [...(data?.files ?? [])]

/** Whether something that is dragged holds files. */
export const bringsFiles = (event: DragEvent) => !!event.dataTransfer?.types.includes('Files')
