import fc from 'fast-check';

/**
 * Text of any UTF-16 code units, also halves of characters that need two. What fast-check has of the kind makes a table of
 * all characters first, which takes longer than most tests do.
 */
export const anyText = (maxLength: number) =>
  fc.string({ unit: fc.nat(0xffff).map((code) => String.fromCharCode(code)), maxLength });
