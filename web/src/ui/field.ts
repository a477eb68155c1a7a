/** How a field of a form looks, below its label. */
export const FIELD =
  'mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-2.5 text-[15px] pointer-coarse:h-11';
