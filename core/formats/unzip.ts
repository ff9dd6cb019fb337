import { type Unzipped, unzipSync } from 'fflate/browser';
import { CannotRead, LARGEST_UNPACKED } from './refused';

/** Files in a zip at most. */
const MOST_FILES = 10_000;

/**
 * The files of a zip that `wanted` names. Sizes are taken from its directory before anything is unpacked, so that a small
 * file cannot fill the memory. Throws `CannotRead`.
 */
export function unzipped(bytes: Uint8Array, wanted: (name: string) => boolean, most = LARGEST_UNPACKED): Unzipped {
  let [files, size] = [0, 0];
  try {
    return unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (++files > MOST_FILES) throw new CannotRead(`The file holds more than ${MOST_FILES} files.`);
        if (!wanted(name)) return false;
        size += originalSize;
        if (size > most) throw new CannotRead(`Unpacked, the file would be larger than ${Math.round(most / 1024 / 1024)} MiB.`);
        return true;
      },
    });
  } catch (e) {
    if (e instanceof CannotRead) throw e;
    throw new CannotRead('The file is damaged: it cannot be unpacked.');
  }
}

/** Whether bytes begin as a zip does. */
export const isZip = (b: Uint8Array): boolean => b[0] === 0x50 && b[1] === 0x4b && (b[2] === 3 || b[2] === 5);
