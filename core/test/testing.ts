/** What tests of other packages use of core's own. */
export * from './naive.ts';
export * from './random-school.ts';
export * from './roster.ts';
