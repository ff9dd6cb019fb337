import * as yup from 'yup';
import type { CheckLine } from '@unirota/core';
import { one, text } from './shapes';

/** A file of a release; its bytes never change. */
export interface ReleaseFile {
  name: string;
  size: number;
  /** SHA-256 of its bytes, hexadecimal. */
  sha256: string;
}
/** A revision that was released, with what the checklist said and the files that went out. */
export interface ReleaseLine {
  letter: string;
  revision: number;
  releasedAt: string;
  person?: string;
  /** Why it was released with something open. */
  reason?: string;
  checklist: CheckLine[];
  files: ReleaseFile[];
}

/** What a release says of itself: `release.json` beside its files. */
export interface ReleaseRequest {
  /** The letter that stands on its papers: it must be the next. */
  letter: string;
  revision: number;
  reason: string | null;
  checklist: CheckLine[];
}

/** Where the files of a release lie in what is sent. */
export const RELEASE_FOLDER = 'files/';
export const RELEASE_JSON = 'release.json';
/** Files of a release at most. */
export const MOST_RELEASE_FILES = 60;
export const RELEASE_FILE_NAME = /^[\p{L}\p{N}][\p{L}\p{N} ._-]{0,117}$/u;

export const releaseSchema = one({
  letter: text('letter', 4),
  revision: yup.number().strict().required('revision is missing: say what is released').integer('revision must be a whole number').min(1),
  reason: yup.string().strict().trim().max(1000, 'Reason must have at most 1000 characters').defined().nullable(),
  checklist: yup
    .array()
    .strict()
    .of(
      one({
        key: text('key', 40),
        state: yup.string().strict().required().oneOf(['ok', 'open', 'fault'], 'state must be “ok”, “open” or “fault”'),
        text: text('text', 20_000),
      }),
    )
    .min(1, 'checklist is missing')
    .max(50, 'checklist must have at most 50 lines')
    .required('checklist is missing'),
});
