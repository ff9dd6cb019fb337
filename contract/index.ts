/** What server and page agree on: routes, requests, answers. Documents are checked with the core's own schema on both sides. */
import * as yup from 'yup';
import { ID_PATTERN, one, text } from './shapes';
import type { Design } from '@unirota/core/document';
import type { Sketch } from '@unirota/core';

export * from './release';
export * from './remarks';

export const ROUTES = {
  live: '/api/live',
  ready: '/api/ready',
  health: '/api/health',
  metrics: '/api/metrics',
  designs: '/api/designs',
  design: (id: string): string => `/api/designs/${id}`,
  sketch: (id: string): string => `/api/designs/${id}/sketch`,
  copy: (id: string): string => `/api/designs/${id}/copy`,
  releases: (id: string): string => `/api/designs/${id}/releases`,
  releaseFile: (id: string, letter: string, name: string): string => `/api/designs/${id}/releases/${letter}/${encodeURIComponent(name)}`,
  shapes: (id: string): string => `/api/designs/${id}/shapes`,
  shape: (id: string, hash: string): string => `/api/designs/${id}/shapes/${hash}`,
  remarks: (id: string): string => `/api/designs/${id}/remarks`,
  remark: (id: string, remark: string): string => `/api/designs/${id}/remarks/${remark}`,
  remarkResolved: (id: string, remark: string): string => `/api/designs/${id}/remarks/${remark}/resolved`,
  watch: (id: string): string => `/api/designs/${id}/watch`,
  restore: (id: string): string => `/api/designs/${id}/restore`,
  folders: '/api/folders',
  folder: (id: string): string => `/api/designs/${id}/folder`,
  aside: (id: string): string => `/api/designs/${id}/aside`,
  revisions: (id: string): string => `/api/designs/${id}/revisions`,
  revision: (id: string, n: number): string => `/api/designs/${id}/revisions/${n}`,
  revisionSketch: (id: string, n: number): string => `/api/designs/${id}/revisions/${n}/sketch`,
  shares: (id: string): string => `/api/designs/${id}/shares`,
  share: (id: string, person: string): string => `/api/designs/${id}/shares/${person}`,
  shareLinks: (id: string): string => `/api/designs/${id}/links`,
  shareLink: (id: string, link: string): string => `/api/designs/${id}/links/${link}`,
  designAudit: (id: string): string => `/api/designs/${id}/audit`,
  takeLink: '/api/links',
  deleted: '/api/deleted',
  session: '/api/session',
  sessions: '/api/sessions',
  signOn: (issuer: string): string => `/api/sign-on/${issuer}`,
  oneSession: (id: string): string => `/api/sessions/${id}`,
  passphrase: '/api/passphrase',
  join: '/api/join',
  people: '/api/people',
  person: (id: string): string => `/api/people/${id}`,
  reset: (id: string): string => `/api/people/${id}/reset`,
  transfer: (id: string): string => `/api/people/${id}/transfer`,
  invitations: '/api/invitations',
  invitation: (id: string) => `/api/invitations/${id}`,
  audit: '/api/audit',
  strength: '/api/strength',
} as const;

/** The largest document that the server takes. */
export const LARGEST_DOCUMENT = 8 * 1024 * 1024;
/** Designs on one page of the list. */
export const LIST_PAGE = 24;

/** What a person may do with a design. */
export type May = 'look' | 'edit' | 'own';

export interface DesignLine {
  id: string;
  name: string;
  revision: number;
  savedAt: string;
  may: May;
  /** Whose it is, where that is somebody else. */
  owner?: string;
  /** Where the person keeps it, where that is in a folder. */
  folder?: string;
  /** Left out where the page of the list would grow too long: asked for by itself. */
  sketch?: Sketch;
}
/** A person's folders, by name, and how many designs are in each. */
export interface FolderLine {
  name: string;
  designs: number;
}
export type ListOrder = 'saved' | 'created' | 'name';
export interface DesignList {
  designs: DesignLine[];
  /** Where the next page begins, where there is one. */
  next?: string;
}

/** A design of one's own that was deleted and can still be restored. */
export interface DeletedLine {
  id: string;
  name: string;
  deletedAt: string;
}

export interface StoredDesign {
  id: string;
  revision: number;
  savedAt: string;
  may: May;
  design: Design;
}

export interface RevisionLine {
  number: number;
  savedAt: string;
  name: string;
  /** Who saved it, where people have names. */
  person?: string;
  /** A name that somebody gave this state: it is kept for ever. */
  label?: string;
  /** Kept beside the line: what lost a conflict. */
  beside?: boolean;
  /** The letter under which it was released. */
  released?: string;
  size: number;
}

/** Saving names the revision that it started from, and itself, so that a repeated request is known for what it is. */
export interface SaveRequest {
  base: number;
  save: string;
  design: Design;
}

export interface SaveAnswer {
  revision: number;
  savedAt: string;
}

/** `application/problem+json` (RFC 9457). */
export interface ProblemAnswer {
  type: string;
  title: string;
  status: number;
  detail?: string;
  /** Places in the document that are wrong. */
  problems?: { path: string; message: string }[];
  /** On a conflict: what stands on the server now. */
  current?: { revision: number; savedAt: string; person?: string };
  /** Sign in first. */
  signIn?: boolean;
}

export interface HealthAnswer {
  server: 'ok';
  /** `full`: it answers, and its disk takes nothing more. */
  database: 'ok' | 'away' | 'full';
}

export interface PersonLine {
  id: string;
  name: string;
  login?: string;
  role?: 'administrator' | 'member';
  disabled?: boolean;
}
export interface SessionAnswer {
  /** People sign in here. */
  accounts: boolean;
  person?: PersonLine & { login: string; role: 'administrator' | 'member' };
  /** Nobody has an account yet: the administrator's comes from the command line. */
  empty?: boolean;
  /** Where people may sign in besides: each has a button. */
  issuers?: { id: string; name: string }[];
}
export interface SignOutAnswer {
  /** Where the browser goes to sign out at the issuer too. */
  leave?: string;
}
/** Where a person is signed in. */
export interface SessionLine {
  id: string;
  begun: string;
  /** To the minute. */
  seen: string;
  /** The one that asks. */
  present: boolean;
}
/** How many designs went over to somebody else. */
export interface TransferAnswer {
  designs: number;
}
export interface InvitationAnswer {
  /** Goes into a link behind `#`, so that no server on the way writes it down. */
  token: string;
  expires: string;
}
/** An invitation, or a link for a new passphrase, that can still be used. */
export interface InvitationLine {
  id: string;
  role: 'administrator' | 'member';
  expires: string;
  /** Whose passphrase it sets anew. */
  person?: string;
  /** Who made it. */
  by?: string;
}
export interface ShareLine {
  person: PersonLine;
  may: 'look' | 'edit';
}
export interface LinkLine {
  id: string;
  may: 'look' | 'edit';
  expires: string;
  /** Told once, when the link is made. */
  token?: string;
}
export interface SharesAnswer {
  owner: PersonLine;
  shares: ShareLine[];
  links: LinkLine[];
}
export interface AuditLine {
  person: string;
  action: string;
  design?: { id: string; name: string };
  detail: string;
  first: string;
  last: string;
  times: number;
}

export { ID_PATTERN };

export const saveRequestSchema = yup
  .object({
    base: yup.number().strict().required('base is missing: name the revision that this started from').integer('base must be a whole number').min(0),
    save: yup.string().strict().required('save is missing: give this save an id').matches(ID_PATTERN, 'save must be a UUID'),
    design: yup.object().required('design is missing'),
  })
  .strict()
  .noUnknown(true, ({ unknown }) => `a save has no field ${unknown}`);

export const createRequestSchema = yup
  .object({
    design: yup.object().required('design is missing'),
    save: yup.string().strict().required('save is missing: give this save an id').matches(ID_PATTERN, 'save must be a UUID'),
  })
  .strict()
  .noUnknown(true, ({ unknown }) => `a new design has no field ${unknown}`);
export type CreateRequest = { design: Design; save: string };

export const saveIdSchema = createRequestSchema.pick(['save']);

/** Passphrases: long rather than complicated. */
export const SHORTEST_PASSPHRASE = 12;
export const LONGEST_PASSPHRASE = 128;
const login = text('Sign-in name').matches(/^[^\s\p{C}]+$/u, 'Sign-in name must have no spaces');
const token = text('Link').matches(/^[A-Za-z0-9_-]{43}$/, 'This link is not complete: copy the whole of it');
/** The rules of a new passphrase, besides the list of common ones. */
const newPassphrase = yup
  .string()
  .strict()
  .required('Passphrase is missing: state it')
  .test(
    'short',
    `Passphrase must have at least ${SHORTEST_PASSPHRASE} characters: a few words make a good one`,
    (v) => [...(v ?? '')].length >= SHORTEST_PASSPHRASE,
  )
  .max(LONGEST_PASSPHRASE, `Passphrase must have at most ${LONGEST_PASSPHRASE} characters`);
const may = yup.string().strict().required().oneOf(['look', 'edit'], 'may must be “look” or “edit”');
const role = yup.string().strict().required().oneOf(['administrator', 'member'], 'role must be “administrator” or “member”');

export const signInSchema = one({ login: text('Sign-in name'), passphrase: text('Passphrase', 1000) });
export type SignIn = { login: string; passphrase: string };
export const joinSchema = one({
  token,
  login: login.optional(),
  name: text('Name').trim('Name must not begin or end with a space').optional(),
  passphrase: newPassphrase,
});
export type Join = { token: string; login?: string; name?: string; passphrase: string };
export const passphraseSchema = one({ current: text('Present passphrase', 1000), next: newPassphrase });
export type ChangePassphrase = { current: string; next: string };
export const inviteSchema = one({ role });
export const personChangeSchema = one({ role: role.optional(), disabled: yup.boolean().strict() });
export type PersonChange = { role?: 'administrator' | 'member'; disabled?: boolean };
export const transferSchema = one({
  to: yup.string().strict().required('to is missing: say whose they become').matches(ID_PATTERN, 'to must be the id of a person'),
});
export const shareSchema = one({ may });
export const linkSchema = one({ may, days: yup.number().strict().required().integer().min(1).max(365) });
export type NewLink = { may: 'look' | 'edit'; days: number };
export const takeLinkSchema = one({ token });
export const labelSchema = one({ label: yup.string().strict().max(120, 'A name must have at most 120 characters').defined().nullable() });
export const folderSchema = one({
  folder: yup
    .string()
    .strict()
    .max(80, 'Name of a folder must have at most 80 characters')
    .trim('Name of a folder must not begin or end with a space')
    .min(1, 'Name of the folder is missing: give it one')
    .defined()
    .nullable(),
});
