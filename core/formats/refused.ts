/** A file that cannot be taken in, and why, in a sentence for people. */
export class CannotRead extends Error {}

/** What a file may hold at most: so that no file costs more memory than there is. */
export const MOST_TRIANGLES = 4_000_000;
/** Links of a mechanism. */
export const MOST_LINKS = 5000;
/** Bytes of everything in a zip together, unpacked. */
export const LARGEST_UNPACKED = 256 * 1024 * 1024;
/** The same of a design with the contents of its shapes: 512 MiB, and its document. */
export const LARGEST_DESIGN = 544 * 1024 * 1024;

/** Throws where a coordinate is no number, or farther than a kilometre. */
export function checkPoints(points: ArrayLike<number>): void {
  for (let i = 0; i < points.length; i++) {
    if (!(Math.abs(points[i]) <= 1e6)) throw new CannotRead('The file has points that are no numbers, or farther than a kilometre from the origin.');
  }
}

export function checkLinks(count: number): void {
  if (count > MOST_LINKS) throw new CannotRead(`The mechanism has more than ${MOST_LINKS} links.`);
}

export function checkTriangles(count: number): void {
  if (count > MOST_TRIANGLES) throw new CannotRead(`The file has ${count} triangles; at most ${MOST_TRIANGLES} are taken in.`);
  if (count === 0) throw new CannotRead('The file holds no triangles.');
}
