// All our keys, told in one place: what the panel shows. A key that is made or changed is told here too.

export interface KeyTold {
  /** Held and pressed together; several ways stand behind each other. */
  keys: string[]
  does: string
}

export interface KeyGroup {
  where: string
  keys: KeyTold[]
}

const told = (does: string, ...keys: string[]): KeyTold => ({ keys, does })

export const KEYS: KeyGroup[] = [
  {
    where: 'Everywhere in a tracker',
    keys: [
      told('Find anything', 'Ctrl K', '/'),
      told('This list', 'Ctrl /'),
      told('Take back what you did last; do it again', 'Ctrl Z', 'Ctrl Shift Z'),
      told('Leave what is open, as it was', 'Esc'),
    ],
  },
  {
    where: 'In a view',
    keys: [
      told('To the sentence; Tab goes through its phrases, Delete drops one', 'Ctrl E'),
      told('Find here, among what is shown', 'Ctrl F'),
      told('Add a record', 'Ctrl Shift Enter'),
      told('Open the record beside the rows', 'Ctrl Enter'),
      told('Walk to the next record, or the one before', 'Alt ↓', 'Alt ↑'),
      told('Why is it so?', 'Ctrl .'),
      told('What can be done here', 'Shift F10'),
    ],
  },
  {
    where: 'In rows',
    keys: [
      told('Type over what stands there', 'any letter'),
      told('Change it where it stands', 'Enter', 'F2'),
      told('To the next field, or the one before', 'Tab', 'Shift Tab'),
      told('To the first row, or the last', 'Ctrl Home', 'Ctrl End'),
      told('To a place', 'Ctrl G'),
      told('Empty it', 'Delete'),
      told('Close or open a group', 'Enter', '←', '→'),
      told('Move it up or down, in an order by hand', 'Alt Shift ↑', 'Alt Shift ↓'),
      told('Move it to the top, or the bottom', 'Alt Shift Home', 'Alt Shift End'),
    ],
  },
  {
    where: 'In blocks of cells',
    keys: [
      told('Select on', 'Shift ↑', 'Shift ↓', 'Shift ←', 'Shift →'),
      told('Select the whole row', 'Shift Space'),
      told('Change the records of what is selected, at once', 'Alt Enter'),
      told('Choose a record, or let go of it; it stays chosen in every view', 'Ctrl Space'),
      told('Copy, cut, paste', 'Ctrl C', 'Ctrl X', 'Ctrl V'),
      told('Fill down, or to the right', 'Ctrl D', 'Ctrl R'),
    ],
  },
  {
    where: 'In a calendar',
    keys: [
      told('The days before, or after', 'Page ↑', 'Page ↓'),
      told('Today', 'Home'),
      told('Move it to another day or hour', 'Alt ←', 'Alt →', 'Alt ↑', 'Alt ↓'),
      told('Make it longer or shorter', 'Alt Shift ↑', 'Alt Shift ↓'),
    ],
  },
  {
    where: 'In a highlight’s list',
    keys: [told('Higher or lower', 'Alt ↑', 'Alt ↓')],
  },
  {
    where: 'While you find',
    keys: [
      told('Through what was found', '↓', '↑'),
      told('To the next heading, or the one before', 'Page ↓', 'Page ↑'),
      told('Open it; as a whole page', 'Enter', 'Ctrl Enter'),
      told('Narrow the rows to these', 'Alt Enter'),
    ],
  },
  {
    where: 'While you say something',
    keys: [told('Say it', 'Ctrl Enter'), told('Name a person', '@'), told('Name a record', '#')],
  },
]

/** On a keyboard where the key beside the space bar does what Ctrl does elsewhere, it is called as it is there. */
export const asHere = (key: string, platform: string) =>
  /mac|iphone|ipad/i.test(platform) ? key.replace('Ctrl', '⌘').replace('Alt', '⌥').replace('Shift', '⇧').replaceAll(' ', '\u202f') : key

/** Those whose words or keys hold all of the words; places of which none is left go. */
export function keysWith(words: string): KeyGroup[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean)
  const fits = (group: KeyGroup, one: KeyTold) => {
    const text = [group.where, one.does, ...one.keys].join(' ').toLowerCase()
    return wanted.every((word) => text.includes(word))
  }
  return KEYS.map((group) => ({ ...group, keys: group.keys.filter((one) => fits(group, one)) })).filter((group) => group.keys.length)
}
