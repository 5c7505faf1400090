// Where something that was refused is wrong.
import { nextTick } from 'vue'

/** Takes whoever sent it there, so that it is in sight; says whether anything within is marked as wrong. */
export async function toFirstWrong(within: HTMLElement | null | undefined): Promise<boolean> {
  await nextTick()
  const wrong = within?.querySelector<HTMLElement>('.v-input--error :is(input:not([type=hidden]), textarea)')
  wrong?.focus()
  return !!wrong
}
