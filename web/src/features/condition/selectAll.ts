/** What stands in a field that is entered is selected, so that typing replaces it. */
export function selectAll(event: FocusEvent) {
  const { target } = event
  if (target instanceof HTMLInputElement) requestAnimationFrame(() => target.select())
}
