import type { Design } from '@unirota/core/document';

/** Gives a document to the person as a file: always possible, whatever has become of server and storage. */
export function takeAway(content: Design | object, name: string): void {
  const url = URL.createObjectURL(new Blob([JSON.stringify(content, null, 1)], { type: 'application/json' }));
  const a = document.createElement('a');
  a.href = url;
  a.download = `${name.replace(/[^\p{L}\p{N} _-]+/gu, '').trim() || 'design'}.json`;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
