import fc from 'fast-check';

// While mutations are tried one after the other: the same cases for each, and a tenth of the usual ones.
fc.configureGlobal({ numRuns: 10, seed: 4 });
