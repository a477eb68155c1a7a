import fc from 'fast-check';

// While mutations are tried one after the other: the same cases for each, and a twelfth of the usual ones.
fc.configureGlobal({ numRuns: 8, seed: 2 });
