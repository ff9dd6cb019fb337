const AND = new Intl.ListFormat('en-GB', { type: 'conjunction' });
const OR = new Intl.ListFormat('en-GB', { type: 'disjunction' });

/** Names in a sentence: “a”, “a and b”, “a, b and c”. */
export const listed = (names: readonly string[]): string => AND.format(names);
/** One of several, in a sentence: “a, b or c”. */
export const eitherOf = (names: readonly string[]): string => OR.format(names);
/** The first few names of many, and how many more there are. */
export const listedUpTo = (most: number, names: readonly string[]): string =>
  names.length <= most ? listed(names) : listed([...names.slice(0, most), `${names.length - most} more`]);
