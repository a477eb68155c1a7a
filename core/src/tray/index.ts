export * from './model.ts';
export * from './propose.ts';
export { TITLE_PATTERNS, fillTitle, titlePatternFault } from './titles.ts';
export * from './plan.ts';
export { GOES_OUT, GOES_OUT_RULES, scheduledRelease, type GoesOut } from './goes-out.ts';
export { fingerprint, Fingerprints } from './fingerprint.ts';
export { nextUnit, type NextUnit } from './next-unit.ts';
export { afterRound } from './after-round.ts';
export { classesNamed } from './class-names.ts';
