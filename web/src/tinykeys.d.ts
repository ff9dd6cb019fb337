/** The package's own types are not found by its exports. */
declare module 'tinykeys' {
  export function createKeybindingsHandler(map: Record<string, (e: KeyboardEvent) => void>): (e: Event) => void;
}
