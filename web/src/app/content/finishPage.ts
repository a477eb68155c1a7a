/** Makes ready what the server has cleaned and the page shows: links, formulas, and what has to be scrolled. */
export async function finishPage(page: HTMLElement): Promise<void> {
  for (const link of page.querySelectorAll<HTMLAnchorElement>('a[href^="http"]')) {
    link.target = '_blank';
    link.rel = 'noopener noreferrer';
  }
  reachScrolling(page);
  const formulas = [...page.querySelectorAll<HTMLElement>('.formula')];
  if (formulas.length === 0) return;
  const { setFormula } = await import('./formulas.ts');
  for (const formula of formulas)
    // What it says is gone once it has been drawn.
    setFormula(formula, (formula.dataset.tex ??= formula.textContent ?? ''));
  reachScrolling(page);
}

/** What is wider than the page can be scrolled with the keys. */
export function reachScrolling(page: HTMLElement): void {
  for (const part of page.querySelectorAll<HTMLElement>('.wide-table, pre'))
    if (part.scrollWidth > part.clientWidth) part.tabIndex = 0;
    else part.removeAttribute('tabindex');
}

/** The HTML of a page for the screen: tables scroll by themselves, what is set apart is no landmark. */
export const pageMarkup = (html: string) =>
  html
    .replaceAll('<aside', '<aside role="note"')
    .replaceAll('<table', '<div class="wide-table"><table')
    .replaceAll('</table>', '</table></div>');
