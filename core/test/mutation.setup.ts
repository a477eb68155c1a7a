import fc from 'fast-check';

// While mutations are tried one after the other: the same cases for each, and a twentieth of the usual ones.
fc.configureGlobal({ numRuns: 5, seed: 2 });
