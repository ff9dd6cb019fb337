import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { describe, expect, it } from 'vitest';
import { ShapeContents } from './shape-contents';

const bytes = (...b: number[]): Uint8Array<ArrayBuffer> => Uint8Array.from(b);
const [A, B] = ['a'.repeat(64), 'b'.repeat(64)];

describe('contents of shapes that are kept on this machine', () => {
  it('whoever signs out leaves none that the server has, and all that wait for it', async () => {
    const contents = new ShapeContents('p1');
    await contents.put(A, bytes(1, 2), 'd1');
    await contents.put(B, bytes(3));
    await contents.drop();
    expect(await contents.get(A)).toEqual(bytes(1, 2));
    expect(await contents.get(B)).toBeUndefined();
    // Waited for by two designs: the first that took it is not enough.
    await contents.put(A, bytes(1, 2), 'd2');
    await contents.taken(A, 'd1');
    await contents.drop();
    expect(await contents.get(A)).toBeDefined();
    await contents.taken(A, 'd2');
    await contents.drop();
    expect(await contents.get(A)).toBeUndefined();
  });

  it('kept in the first form of the store, they are there and go on waiting', async () => {
    const old = await openDB('unirota-shapes.p2', 1, {
      upgrade: (db) => void db.createObjectStore('contents', { keyPath: 'hash' }).createIndex('at', 'at'),
    });
    await old.put('contents', { hash: A, bytes: bytes(7), size: 1, at: 1, waiting: ['d1'] });
    await old.put('contents', { hash: B, bytes: bytes(8), size: 1, at: 2, waiting: [] });
    old.close();
    const contents = new ShapeContents('p2');
    expect(await contents.get(A)).toEqual(bytes(7));
    await contents.drop();
    expect(await contents.get(A)).toEqual(bytes(7));
    expect(await contents.get(B)).toBeUndefined();
  });
});
