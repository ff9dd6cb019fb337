/** What this browser has under a key; undefined where it has nothing, or keeps nothing. */
export function remembered(key: string): string | undefined {
  try {
    return localStorage.getItem(key) ?? undefined;
  } catch {
    return undefined;
  }
}

/** Keeps a text in this browser. Where storage is blocked it holds for this visit, as the caller has it. */
export function remember(key: string, text: string): void {
  try {
    localStorage.setItem(key, text);
  } catch {
    // Blocked.
  }
}
