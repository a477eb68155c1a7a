import 'katex/dist/katex.min.css';
import katex from 'katex';

/** Sets a formula (TeX) into an element; what cannot be read stands there as it was written. */
export function setFormula(element: HTMLElement, tex: string): void {
  katex.render(tex, element, {
    displayMode: ['DIV', 'PRE'].includes(element.tagName),
    throwOnError: false,
    maxExpand: 200,
    maxSize: 20,
    output: 'htmlAndMathml',
    strict: 'ignore',
    trust: false,
  });
}
