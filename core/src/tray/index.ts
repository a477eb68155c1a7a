export * from './model.ts';
export * from './propose.ts';
export { TITLE_PATTERNS, TITLE_TOKENS, fillTitle, titlePatternFault } from './titles.ts';
export * from './plan.ts';
export { GOES_OUT, scheduledRelease, type GoesOut } from './goes-out.ts';
export { fingerprint, Fingerprints } from './fingerprint.ts';
export { nextUnit, type NextUnit } from './next-unit.ts';
export { afterRound } from './after-round.ts';
export { classesNamed } from './class-names.ts';
