import { createHash } from 'node:crypto';
import { MOST_RELEASE_FILES, RELEASE_FILE_NAME, RELEASE_FOLDER, RELEASE_JSON, type ReleaseRequest, releaseSchema } from '@unirota/contract';
import { analyse } from '@unirota/core';
import type { Design } from '@unirota/core/document';
import { type Refused, requestProblems } from './reading';

/** A file of a release, with its SHA-256. */
export interface SentFile {
  name: string;
  bytes: Uint8Array;
  hash: string;
}
export interface SentRelease extends ReleaseRequest {
  files: SentFile[];
}

/** Bytes of everything in a release, unpacked. */
const LARGEST_RELEASE = 128 * 1024 * 1024;

const refused = (title: string, status: Refused['status'] = 422): Refused => ({ status, title });

/** Reads what is sent as a release: a zip of `release.json` and the files. */
export async function releaseIn({ body }: { body: Uint8Array }): Promise<SentRelease | Refused> {
  const { CannotRead, isZip, unzipped } = await import('@unirota/core/geometry');
  if (!isZip(body)) return refused('A release is sent as a zip of release.json and its files', 400);
  let entries: Record<string, Uint8Array>;
  try {
    entries = unzipped(
      body,
      (name) => name === RELEASE_JSON || (name.startsWith(RELEASE_FOLDER) && name.length > RELEASE_FOLDER.length),
      LARGEST_RELEASE,
    );
  } catch (e) {
    if (e instanceof CannotRead) return refused(e.message);
    throw e;
  }
  let request: ReleaseRequest;
  try {
    request = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(entries[RELEASE_JSON])) as ReleaseRequest;
  } catch {
    return refused('The release lacks its release.json', 400);
  }
  const problem = requestProblems(releaseSchema, request);
  if (problem) return problem;
  const files = Object.entries(entries).flatMap(([path, bytes]): SentFile[] => {
    const name = path.slice(RELEASE_FOLDER.length);
    return path === RELEASE_JSON ? [] : [{ name, bytes, hash: createHash('sha256').update(bytes).digest('hex') }];
  });
  if (!files.length) return refused('A release has at least one file');
  if (files.length > MOST_RELEASE_FILES) return refused(`A release has at most ${MOST_RELEASE_FILES} files`);
  const odd = files.find((f) => !RELEASE_FILE_NAME.test(f.name));
  if (odd) return refused(`“${odd.name.slice(0, 60)}” is no name of a file here: take letters, digits, spaces, dots, - and _`);
  return { ...request, files };
}

/** The faults of a document, in sentences; without the contents of imported shapes, whose overlaps are not looked at here. */
export function faultsOf(text: string): string[] {
  return analyse(JSON.parse(text) as Design).findings.flatMap((f) => (f.severity === 'fault' ? [f.message] : []));
}
