/** A figure of a rating by its symbol; throws where there is none. */
export function figure({ figures }: { readonly figures: readonly { readonly symbol: string; readonly value: number }[] }, symbol: string): number {
  const found = figures.find((f) => f.symbol === symbol);
  if (!found) throw new Error(`no figure ${symbol}`);
  return found.value;
}
