import { type AnySchema, ValidationError } from 'yup';
import { describe, expect, it } from 'vitest';
import { emptyDesign } from '@unirota/core/document';
import {
  LONGEST_PASSPHRASE,
  ROUTES,
  SHORTEST_PASSPHRASE,
  createRequestSchema,
  inviteSchema,
  joinSchema,
  labelSchema,
  linkSchema,
  newRemarkSchema,
  remarkTextSchema,
  resolveSchema,
  passphraseSchema,
  personChangeSchema,
  saveIdSchema,
  saveRequestSchema,
  shareSchema,
  signInSchema,
  takeLinkSchema,
} from './index';

const ID = '6d71053c-d3ed-4b8b-9740-52ba807699d9';
const TOKEN = 'A'.repeat(43);
const WORDS = 'heron under the lock gate';
/** What a schema says of a request: nothing, or the places that are wrong. */
function wrong(schema: AnySchema, request: unknown): string[] {
  try {
    schema.validateSync(request, { strict: true, abortEarly: false });
    return [];
  } catch (e) {
    if (!(e instanceof ValidationError)) throw e;
    return (e.inner.length ? e.inner : [e]).map((x) => `${x.path ?? ''}: ${x.message}`);
  }
}

describe('requests', () => {
  const right: [string, AnySchema, Record<string, unknown>][] = [
    ['a save', saveRequestSchema, { base: 3, save: ID, design: emptyDesign('x') }],
    ['a new design', createRequestSchema, { save: ID, design: emptyDesign('x') }],
    ['a save id', saveIdSchema, { save: ID }],
    ['a sign-in', signInSchema, { login: 'ada', passphrase: 'anything' }],
    ['an invitation taken up', joinSchema, { token: TOKEN, login: 'ada', name: 'Ada Brook', passphrase: WORDS }],
    ['a new passphrase by link', joinSchema, { token: TOKEN, passphrase: WORDS }],
    ['a changed passphrase', passphraseSchema, { current: 'x', next: WORDS }],
    ['an invitation', inviteSchema, { role: 'member' }],
    ['a changed role', personChangeSchema, { role: 'administrator' }],
    ['a closed account', personChangeSchema, { disabled: true }],
    ['a share', shareSchema, { may: 'look' }],
    ['a link', linkSchema, { may: 'edit', days: 14 }],
    ['a remark', newRemarkSchema, { id: ID, text: 'Wide enough?', subject: { kind: 'item', item: 'pinion', field: 'width' } }],
    ['an answer', newRemarkSchema, { id: ID, text: 'Yes', answers: ID }],
    ['a changed remark', remarkTextSchema, { text: 'Said better' }],
    ['a resolved remark', resolveSchema, { resolved: true }],
    ['a link taken', takeLinkSchema, { token: TOKEN }],
    ['a name of a revision', labelSchema, { label: 'As built' }],
    ['no name any more', labelSchema, { label: null }],
  ];
  it.each(right)('%s is taken as it should be', (_, schema, request) => {
    expect(wrong(schema, request)).toEqual([]);
  });
  it.each(right)('%s with a field that nobody knows is refused, and which is said', (_, schema, request) => {
    expect(wrong(schema, { ...request, sneaked: true }).join()).toMatch(/has no field sneaked|there is no field sneaked/);
  });
  it.each(right)('%s that is no object at all is refused', (_, schema) => {
    for (const x of [null, [], 'x', 7, true]) expect(wrong(schema, x)).not.toEqual([]);
  });
  it.each(right.filter(([what]) => !/changed role|closed account/.test(what)))('%s with a field of another kind is refused', (_, schema, request) => {
    for (const key of Object.keys(request)) {
      for (const x of [undefined, 3.5, {}, ['x']]) {
        // Name and sign-in name may be left out: a link for a new passphrase needs neither.
        if (x === undefined && /^(login|name)$/.test(key) && 'token' in request) continue;
        if (x && typeof x === 'object' && !Array.isArray(x) && key === 'design') continue;
        expect([key, x, wrong(schema, { ...request, [key]: x }).length > 0]).toEqual([key, x, true]);
      }
    }
  });

  it('a save names the revision it started from, as a whole number from nought', () => {
    for (const base of [-1, 1.5, '3', null]) expect(wrong(saveRequestSchema, { base, save: ID, design: {} })).not.toEqual([]);
    expect(wrong(saveRequestSchema, { base: 0, save: 'not an id', design: {} })).toEqual(['save: save must be a UUID']);
  });

  it('a passphrase is counted in characters as people see them, from 12 to 128', () => {
    const join = (passphrase: string) => wrong(joinSchema, { token: TOKEN, passphrase });
    expect(join('🛶'.repeat(SHORTEST_PASSPHRASE - 1))).toHaveLength(1);
    expect(join('🛶'.repeat(SHORTEST_PASSPHRASE))).toEqual([]);
    expect(join('x'.repeat(LONGEST_PASSPHRASE))).toEqual([]);
    expect(join('x'.repeat(LONGEST_PASSPHRASE + 1))).toHaveLength(1);
  });

  it('a sign-in name has no spaces or signs that nobody sees, a name none at its ends', () => {
    for (const login of ['a b', ' ada', 'ada\u0000', 'a\nb']) {
      expect(wrong(joinSchema, { token: TOKEN, login, name: 'x', passphrase: WORDS })).not.toEqual([]);
    }
    expect(wrong(joinSchema, { token: TOKEN, login: 'ada', name: ' Ada', passphrase: WORDS })).not.toEqual([]);
  });

  it('a link lasts from a day to a year, and its secret is whole', () => {
    for (const days of [0, 366, 1.5]) expect(wrong(linkSchema, { may: 'look', days })).not.toEqual([]);
    expect(wrong(linkSchema, { may: 'own', days: 3 }).join()).toMatch(/may must be “look” or “edit”/);
    for (const token of ['', 'A'.repeat(42), 'A'.repeat(44), `${'A'.repeat(42)}=`]) expect(wrong(takeLinkSchema, { token })).not.toEqual([]);
  });
});

describe('routes', () => {
  it('are below /api, and no two are the same', () => {
    const all = Object.values(ROUTES).map((r) => (typeof r === 'string' ? r : (r as (...a: unknown[]) => string)('ID', 'OTHER')));
    expect(new Set(all).size).toBe(all.length);
    for (const r of all) expect(r).toMatch(/^\/api\/[a-zA-Z/-]+$/);
  });
});
