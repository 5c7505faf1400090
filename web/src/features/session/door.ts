// Forms at the door, and about oneself.
import { nextTick } from 'vue'

/** Whoever sent something that was refused goes on at what is wrong with it, or where they were. */
export async function toWhatIsWrong(form: EventTarget | null) {
  await nextTick()
  if (!(form instanceof HTMLElement)) return
  const wrong = form.querySelector<HTMLElement>('.v-input--error input') ?? form.querySelector<HTMLElement>('button[type=submit]')
  wrong?.focus()
}
