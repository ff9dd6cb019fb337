/** What server and page agree on: routes, requests, answers. Documents are checked with the core's own schema on both sides. */
import * as yup from 'yup';
import type { Design } from '@unirota/core/design';
import type { Sketch } from '@unirota/core/sketch';

export const ROUTES = {
  health: '/api/health',
  designs: '/api/designs',
  design: (id: string): string => `/api/designs/${id}`,
  copy: (id: string): string => `/api/designs/${id}/copy`,
  restore: (id: string): string => `/api/designs/${id}/restore`,
  revisions: (id: string): string => `/api/designs/${id}/revisions`,
  revision: (id: string, n: number): string => `/api/designs/${id}/revisions/${n}`,
} as const;

/** The largest document that the server takes. */
export const LARGEST_DOCUMENT = 8 * 1024 * 1024;

export interface DesignLine {
  id: string;
  name: string;
  revision: number;
  savedAt: string;
  sketch: Sketch;
}

export interface StoredDesign {
  id: string;
  revision: number;
  savedAt: string;
  design: Design;
}

export interface RevisionLine {
  number: number;
  savedAt: string;
  name: string;
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
  current?: StoredDesign;
}

export interface HealthAnswer {
  server: 'ok';
  database: 'ok' | 'away';
}

export const ID_PATTERN = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

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
