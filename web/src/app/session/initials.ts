/** The letters that stand for a person: of the first and the last part of the name. */
export const initialsOf = (name: string): string =>
  name
    .split(' ')
    .map((word) => word[0])
    .filter((_, n, all) => n === 0 || n === all.length - 1)
    .join('');
