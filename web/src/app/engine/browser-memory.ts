/** What this browser has under a key; undefined where it has nothing, or keeps nothing. */
export function remembered(key: string): string | undefined {
  try {
    return localStorage.getItem(key) ?? undefined;
  } catch {
    return undefined;
  }
}

/**
 * Keeps a text in this browser; an empty one is forgotten. Where storage is blocked it holds for this visit, as the caller
 * has it.
 */
export function remember(key: string, text: string): void {
  try {
    if (text) localStorage.setItem(key, text);
    else localStorage.removeItem(key);
  } catch {
    // Blocked.
  }
}
