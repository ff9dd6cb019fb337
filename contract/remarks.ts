/** Remarks on a design, and who has it open: what goes over HTTP and what a page is told over its WebSocket. */
import * as yup from 'yup';
import { ID_PATTERN, one, text } from './shapes';

/** What a remark is about. */
export type RemarkSubject =
  | { kind: 'design' }
  | { kind: 'item'; item: string; field?: string }
  | { kind: 'finding'; code: string; items: string[]; message: string }
  /** An instant of a saved run, or of the unsaved one, s. */
  | { kind: 'instant'; run?: string; time: number }
  /** A point of a member, mm in the member's own frame. */
  | { kind: 'place'; member: string; at: [number, number, number] };

export interface RemarkLine {
  id: string;
  /** Which change of the design's remarks it was made or changed by. */
  change: number;
  person: string;
  /** Made by whoever asks. */
  mine?: true;
  /** The first of its thread says what it is about; the others name the first. */
  subject?: RemarkSubject;
  answers?: string;
  /** Empty where it was deleted. */
  text: string;
  made: string;
  edited?: string;
  resolved?: { person: string; at: string };
  deleted?: true;
}
export interface RemarksAnswer {
  /** How often the remarks have changed: what to ask from next time. */
  change: number;
  /** What has changed since, the oldest first. */
  remarks: RemarkLine[];
  /** There is more: ask again from `change`. */
  more?: true;
}

/** A new remark carries its own id, so that a repeated request is known for what it is. */
export interface NewRemark {
  id: string;
  text: string;
  subject?: RemarkSubject;
  answers?: string;
}

/** A page that has the design open. */
export interface Present {
  page: string;
  person: string;
  /** The step of the work that it shows. */
  step: string;
  /** Of whoever is told. */
  mine?: true;
}
/** What a page is told: when it comes, and whenever something of it changes. */
export interface WatchWord {
  /** The newest revision of the design. */
  revision: number;
  /** How often its remarks have changed. */
  remarks: number;
  /** The other pages. */
  others: Present[];
}
/** What a page says of itself. */
export interface WatchSays {
  step: string;
}
/** Why a page is not told any more: `WebSocket` close codes. */
export const WATCH_ENDED = { signIn: 4401, gone: 4404 } as const;

export const LONGEST_REMARK = 2000;
/** Remarks of one design, those that were deleted among them. */
export const MOST_REMARKS = 5000;
/** Remarks in one answer. */
export const REMARKS_PAGE = 500;

const uuid = (label: string): yup.StringSchema<string> => text(label, 36).matches(ID_PATTERN, `${label} must be a UUID`);
const item = (label: string): yup.StringSchema<string> => text(label, 64);
const coordinate = yup.number().strict().required().min(-1e9).max(1e9);
const remarkText = text('Remark', LONGEST_REMARK).matches(/\S/, 'Remark is missing: state it');

const SUBJECTS: Readonly<Record<RemarkSubject['kind'], yup.AnySchema>> = {
  design: one({ kind: text('kind') }),
  item: one({ kind: text('kind'), item: item('item'), field: text('field', 64).optional() }),
  finding: one({
    kind: text('kind'),
    code: text('code', 64),
    items: yup.array().of(item('item')).strict().required().max(40, 'items must have at most 40 ids'),
    message: text('message', 1000),
  }),
  instant: one({ kind: text('kind'), run: item('run').optional(), time: yup.number().strict().required('time is missing').min(0).max(1e9) }),
  place: one({
    kind: text('kind'),
    member: item('member'),
    at: yup.array().of(coordinate).strict().required().length(3, 'at must have three numbers'),
  }),
};
const subject = yup.lazy((v: unknown) => {
  if (v === undefined) return yup.mixed().optional();
  const kind = (v as { kind?: unknown } | null)?.kind;
  if (typeof kind === 'string' && Object.hasOwn(SUBJECTS, kind)) return SUBJECTS[kind as RemarkSubject['kind']];
  return yup.mixed().test('kind', `subject must be of a kind: ${Object.keys(SUBJECTS).join(', ')}`, () => false);
});

export const newRemarkSchema = yup
  .object({ id: uuid('id'), text: remarkText, subject, answers: uuid('answers').optional() })
  .strict()
  .noUnknown(true, ({ unknown }) => `there is no field ${unknown}`)
  .test('one', 'a remark has a subject or is an answer', (v: unknown) => {
    const { subject: s, answers } = v as NewRemark;
    return (s === undefined) !== (answers === undefined);
  });
export const remarkTextSchema = one({ text: remarkText });
export const resolveSchema = one({ resolved: yup.boolean().strict().required('resolved is missing') });
export const watchSaysSchema = one({
  step: yup
    .string()
    .strict()
    .defined()
    .max(16)
    .matches(/^[a-z]*$/),
});
