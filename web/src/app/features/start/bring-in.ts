import { type Design, readDesign } from '@unirota/core/document';
import { LARGEST_DESIGN_FILE, LARGEST_FILE, isMechanismFile, tooLarge } from '@unirota/solids/formats';
import type { PartsApi } from '../../engine/parts.worker';
import { WorkerClient } from '../../engine/worker-client';

/** No document of ours comes near this, characters. */
const LONGEST = 20_000_000;

/** A design document out of a file as one was taken away; or what is wrong with it, in a sentence. Never throws. */
export function bringIn(text: string, file: string): { design: Design; problem?: undefined } | { design?: undefined; problem: string } {
  if (text.length > LONGEST) return { problem: `${file} is too large for a design document` };
  let content: unknown;
  try {
    content = JSON.parse(text);
  } catch {
    return { problem: $localize`${file} holds no design: it is not JSON` };
  }
  // What was kept on a machine holds the design beside what belongs to the keeping.
  const inner = (content as { design?: unknown } | null)?.design ?? content;
  if (!inner || typeof inner !== 'object' || Array.isArray(inner)) return { problem: $localize`${file} holds no design` };
  const read = readDesign(inner);
  if (!read.problems) return { design: read.design };
  const [first] = read.problems;
  const more = read.problems.length > 1 ? `, and ${read.problems.length - 1} more` : '';
  return { problem: $localize`${file} cannot be taken in: ${first.message}${first.path ? ` (${first.path})` : ''}${more}` };
}

/** A design out of a file, with the contents of its shapes and what was not taken over; or what is wrong with it. */
export type FromFile =
  | { design: Design; contents: ReadonlyMap<string, Uint8Array<ArrayBuffer>>; untaken: readonly string[]; problem?: undefined }
  | { design?: undefined; problem: string };

/** Reads a design document, a zip of one with its shapes, or a mechanism of another engine. */
export async function fromFile(file: File): Promise<FromFile> {
  const zip = file.name.toLowerCase().endsWith('.zip');
  const large = tooLarge(file.size, zip ? LARGEST_DESIGN_FILE : LARGEST_FILE);
  if (large !== undefined) return { problem: `${file.name}: ${large}` };
  if (!zip && !isMechanismFile(file.name)) return withContents(bringIn(await file.text(), file.name), new Map(), []);
  const worker = new WorkerClient<PartsApi>(() => new Worker(new URL('../../engine/parts.worker', import.meta.url), { type: 'module' }));
  try {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const packed = await worker.call(async (api) => api.design(bytes));
    if (packed.problem !== undefined) return { problem: `${file.name}: ${packed.problem}` };
    return withContents(bringIn(packed.text, file.name), packed.contents, packed.untaken);
  } finally {
    worker.close();
  }
}

const withContents = (
  read: ReturnType<typeof bringIn>,
  contents: ReadonlyMap<string, Uint8Array<ArrayBuffer>>,
  untaken: readonly string[],
): FromFile => (read.design ? { design: read.design, contents, untaken } : { problem: read.problem });
