import fc from 'fast-check';

/** How often a property is tried, and how much must come of it: less where fewer than the usual runs are set (mutation.setup.ts). */
export const share = (usually: number) =>
  (usually * (fc.readConfigureGlobal().numRuns ?? 100)) / 100;

export const runs = (usually: number) => ({ numRuns: Math.ceil(share(usually)) });
