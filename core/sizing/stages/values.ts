/** Sizes by key. */
export type Values = Record<string, number | string | boolean>;
