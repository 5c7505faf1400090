// Forms at the door, and about oneself.
import { toFirstWrong } from '@/app/wrong'

/** Whoever sent something that was refused goes on at what is wrong with it, or where they were. */
export async function toWhatIsWrong(form: EventTarget | null) {
  if (!(form instanceof HTMLElement) || (await toFirstWrong(form))) return
  form.querySelector<HTMLElement>('button[type=submit]')?.focus()
}
