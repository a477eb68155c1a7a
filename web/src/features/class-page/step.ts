/** The class whose page comes so many after (or before) that of another one; none where there is only one. */
export function neighbourOf<T extends { readonly id: string }>(
  classes: readonly T[],
  id: string,
  by: 1 | -1,
): T | undefined {
  const at = classes.findIndex((one) => one.id === id);
  if (at < 0 || classes.length < 2) return undefined;
  return classes[(at + by + classes.length) % classes.length];
}

/** Whether a key steps to the next page of a class (`n`), or the one before (`b`). */
export function stepKey(event: KeyboardEvent): 1 | -1 | null {
  const target = event.target as HTMLElement;
  if (target.matches('input, textarea, select, [contenteditable]')) return null;
  if (event.ctrlKey || event.metaKey || event.altKey) return null;
  return event.key === 'n' ? 1 : event.key === 'b' ? -1 : null;
}
