/**
 * Things by number, put into groups that share a member (union-find
 * with halved paths: Tarjan & van Leeuwen, J. ACM 31, 1984).
 */
export class Groups {
  private readonly up: Int32Array;

  constructor(count: number) {
    this.up = Int32Array.from({ length: count }, (_, i) => i);
  }

  /** The number that stands for the group of a thing. */
  of(i: number): number {
    const { up } = this;
    while (up[i] !== i) i = up[i] = up[up[i]];
    return i;
  }

  unite(things: ArrayLike<number>): void {
    for (let k = 1; k < things.length; k++) this.up[this.of(things[k])] = this.of(things[0]);
  }
}

/** The list of a key, which is there from now on: what goes into it is in the map. */
export function listAt<K, V>(lists: Map<K, V[]>, key: K): V[] {
  let list = lists.get(key);
  if (!list) lists.set(key, (list = []));
  return list;
}
