/**
 * Arrow keys, Home and End walk the rows of a list: the elements marked `data-row` inside `list`. Returns whether the
 * key was one of these.
 */
export function walkRows(list: HTMLElement, event: KeyboardEvent): boolean {
  const steps: Record<string, (at: number, last: number) => number> = {
    ArrowDown: (at, last) => Math.min(at + 1, last),
    ArrowUp: (at) => Math.max(at - 1, 0),
    Home: () => 0,
    End: (_, last) => last,
  };
  const step = steps[event.key];
  if (!step || event.ctrlKey || event.metaKey || event.altKey) return false;
  const rows = [...list.querySelectorAll<HTMLElement>('[data-row]')];
  const at = rows.findIndex((row) => row.contains(document.activeElement));
  const next = rows[step(at, rows.length - 1)];
  if (!next) return false;
  event.preventDefault();
  next.focus();
  return true;
}
