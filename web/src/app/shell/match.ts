/** How well a text answers what was typed; the words may stand in any order. 0: not at all. */
export function matchScore(text: string, typed: string): number {
  const low = text.toLowerCase();
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return 1;
  let sum = 0;
  for (const w of words) {
    const at = low.indexOf(w);
    if (at < 0) return 0;
    sum += at === 0 ? 4 : /[^\p{L}\p{N}]/u.test(low[at - 1]) ? 3 : 1;
  }
  return sum / words.length + 1 / low.length;
}
