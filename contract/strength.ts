/** Strength models: the mesh of a member with a load sheet on it, made by the server with open tools. */
import * as yup from 'yup';
import { type Design, fieldsShape, numberField } from '@unirota/core/document';
import type { LoadSheet } from '@unirota/core';
import { one, text } from './shapes';

/** A line of a load sheet, in the frame of its member: mm, N, N·m. */
export type SheetLine = LoadSheet['lines'][number];
const three = yup
  .array()
  .of(yup.number().strict().required().min(-1e12, 'a number is too large').max(1e12, 'a number is too large'))
  .strict()
  .required()
  .length(3, 'a point or a force has three numbers');
const sheetLine = one({
  kind: yup.string().strict().required().oneOf(['joint', 'coupling', 'load', 'source', 'weight', 'inertia']),
  id: yup.string().strict().max(100).defined(),
  name: yup.string().strict().max(500).defined(),
  point: three,
  force: three,
  moment: three,
});
/** What of a request for a strength model a person states. */
export const STRENGTH_FIELDS = [
  numberField('size', 'Size of elements', { unit: 'mm', required: true, min: 0.01, max: 1e4 }),
  numberField('young', 'Young’s modulus', { unit: 'MPa', symbol: 'E', required: true, min: 1, max: 1e7 }),
  numberField('poisson', 'Poisson’s ratio', { symbol: 'ν', required: true, min: 0, max: 0.49 }),
] as const;
export const strengthRequestSchema = one({
  design: yup.object().required('design is missing'),
  member: text('Member', 100),
  lines: yup.array().of(sheetLine).strict().required('lines are missing').max(2000, 'A load sheet has at most 2000 lines'),
  ...fieldsShape(STRENGTH_FIELDS),
  solve: yup.boolean().strict().required('solve is missing'),
});
export interface StrengthRequest {
  design: Design;
  member: string;
  lines: SheetLine[];
  /** mm, MPa. */
  size: number;
  young: number;
  poisson: number;
  /** Have the solver run as well. */
  solve: boolean;
}
/** What became of a request for a strength model: a line of JSON each, as it happens; the last is a `problem` or is `done`. */
export type StrengthNews = { step: 'waiting' | 'installing' | 'meshing' | 'placing' | 'solving' } | { problem: string } | { done: StrengthResult };
export interface StrengthResult {
  /** The input deck, as `ccx` runs it. */
  deck: string;
  nodes: number;
  elements: number;
  /** Lines of the sheet: on how many nodes, and how far the body’s surface is from the point, mm. */
  sets: { name: string; nodes: number; away: number }[];
  /** Pieces that do not touch and are held together. */
  ties: { names: string[]; gap: number }[];
  answer?: {
    /** Greatest equivalent stress, MPa, and where, mm in the member's frame. */
    stress: number;
    at: [number, number, number];
    /** What the body's shape changes by, mm: the greatest way of a point against the body's own mean motion. */
    change: number;
    /** What the supports carry, N. */
    carried: number;
    /**
     * Stress and change of shape at the corners of the elements
     * (`StressField` of core): Float32 and Uint32, little-endian, in base 64.
     */
    field: Record<'points' | 'stress' | 'change' | 'tets' | 'skin', string>;
  };
}
