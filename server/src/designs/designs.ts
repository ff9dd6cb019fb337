import type {
  DeletedLine,
  DesignList,
  FolderLine,
  May,
  NewRemark,
  ReleaseLine,
  RemarkLine,
  RemarksAnswer,
  RevisionLine,
  SaveAnswer,
} from '@unirota/contract';
import { LOCAL_ID, type Person } from '../accounts/person';
import type { Checked, Key } from '../jobs/tasks';
import { type ListRequest, deleted, file, folders, list } from './list';
import { type StoredText, label, readDesign, revisionSketch, revisions, sketch } from './revisions';
import { type Context, type DesignsOptions, insertDesign, mayOf } from './rows';
import { check, copy, create, remove, restore, save } from './saving';
import { SHAPE_LIMITS, insertContent, shapeContent, shapes, storeShape, sweepShapes } from './shapes';
import { release, releaseFile, releases } from './releases';
import { addRemark, changeRemark, removeRemark, remarks, resolveRemark } from './remarks';
import { Sketches } from './sketches';
import { superfluous } from './thinning';

const THIN_EVERY = 3_600_000;
/** So few revisions need no thinning. */
const FEW = 20;
const MOST_REMEMBERED = 20_000;

/** Designs and their revisions in SQL. What is done for a person goes through `of`; nothing here can be asked without one. */
export class Designs {
  readonly sketches: Sketches;
  /** When each design was last looked through for what is superfluous: by this server, so that it need not ask at every save. */
  private readonly thinned = new Map<string, number>();

  constructor(private readonly options: DesignsOptions) {
    this.sketches = new Sketches(options.database, options.jobs, options.log);
  }

  of(person: Person): PersonsDesigns {
    return new PersonsDesigns({ ...this.options, person, sketches: this.sketches }, this);
  }

  /** A demo design, once for a database: its save id says whether it has been here. Gives whether it was new. */
  async addDemo(checked: Checked, contents: ReadonlyMap<string, Uint8Array> = new Map()): Promise<boolean> {
    return this.options.database.transaction(async (s) => {
      const had = await s.rows('SELECT 1 FROM revisions WHERE save_id = :save', { save: checked.save });
      if (had.length) return false;
      const { id } = await insertDesign(s, LOCAL_ID, checked, true);
      for (const [hash, body] of contents) await insertContent(s, id, hash, body);
      return true;
    });
  }

  /**
   * Takes away revisions that their age makes superfluous; at most once an hour for a design, by whichever server comes
   * first.
   */
  async thin(id: string, now = new Date()): Promise<number> {
    const { database } = this.options;
    const mine = await database.change('UPDATE designs SET thinned_at = :now WHERE id = :id AND (thinned_at IS NULL OR thinned_at < :before)', {
      id,
      now,
      before: new Date(now.getTime() - THIN_EVERY),
    });
    if (!mine) return 0;
    return database.transaction(async (s) => {
      const [d] = await s.rows<{ revision: number; key_number: number }>('SELECT revision, key_number FROM designs WHERE id = :id FOR UPDATE', {
        id,
      });
      // A released revision is kept as one with a name is.
      const rows = await s.rows<{ number: number; saved_at: Date; label: string | null; beside: number; key_number: number | null }>(
        `SELECT r.number, r.saved_at, COALESCE(r.label, l.letter) AS label, r.beside, r.key_number
           FROM revisions r LEFT JOIN releases l ON l.design_id = r.design_id AND l.number = r.number WHERE r.design_id = :id`,
        { id },
      );
      const kept = rows.map((r) => ({ number: r.number, savedAt: r.saved_at, label: r.label, beside: r.beside === 1, keyNumber: r.key_number }));
      const go = superfluous(kept, d.revision, d.key_number, now);
      for (const number of go) await s.change('DELETE FROM revisions WHERE design_id = :id AND number = :number', { id, number });
      return go.length;
    });
  }

  /**
   * Takes away for good what was deleted so many days ago, with all its revisions; some at a time. What was released from stays.
   * Gives how many.
   */
  async purge(days: number, now = new Date()): Promise<number> {
    const { database } = this.options;
    const rows = await database.read<{ id: string }>(
      'SELECT id FROM designs d WHERE deleted_at < :old AND NOT EXISTS (SELECT 1 FROM releases r WHERE r.design_id = d.id) LIMIT 50',
      {
        old: new Date(now.getTime() - days * 86_400_000),
      },
    );
    for (const { id } of rows) {
      await database.transaction(async (s) => {
        // Restored meanwhile, it stays.
        const [still] = await s.rows('SELECT 1 FROM designs WHERE id = :id AND deleted_at IS NOT NULL FOR UPDATE', { id });
        if (!still) return;
        for (const table of [
          'filings',
          'shares',
          'links',
          'remarks',
          'remark_changes',
          'presence',
          'design_shapes',
          'revision_shapes',
          'revisions',
        ]) {
          await s.change(`DELETE FROM ${table} WHERE design_id = :id`, { id });
        }
        await s.change('DELETE FROM designs WHERE id = :id', { id });
      });
    }
    return rows.length;
  }

  /** As `thin`, after a save: asks only when an hour has passed here. */
  private async thinSometimes(id: string): Promise<void> {
    const now = Date.now();
    if (now - (this.thinned.get(id) ?? 0) < THIN_EVERY) return;
    if (this.thinned.size > MOST_REMEMBERED) this.thinned.clear();
    this.thinned.set(id, now);
    await this.thin(id);
  }

  /** After a save. */
  saved(id: string, revision: number): void {
    if (revision > FEW) void this.thinSometimes(id).catch((e: unknown) => this.options.log.debug({ err: e }, 'not thinned'));
  }

  /** Takes away contents of shapes that nothing refers to. */
  sweepShapes(now = new Date()): Promise<{ links: number; contents: number }> {
    return sweepShapes(this.options, now);
  }

  end(): void {
    this.sketches.end();
  }
}

/** The designs as one person has them. */
export class PersonsDesigns {
  constructor(
    private readonly c: Context,
    private readonly all: Designs,
  ) {}

  list(request: ListRequest): Promise<DesignList> {
    return list(this.c, request);
  }
  folders(): Promise<FolderLine[]> {
    return folders(this.c);
  }
  file(id: string, folder: string | null): Promise<void> {
    return file(this.c, id, folder);
  }
  deleted(): Promise<DeletedLine[]> {
    return deleted(this.c);
  }

  may(id: string): Promise<May> {
    return mayOf(this.c, id);
  }
  read(id: string, number?: number): Promise<StoredText> {
    return readDesign(this.c, id, number);
  }
  revisions(id: string): Promise<RevisionLine[]> {
    return revisions(this.c, id);
  }
  label(id: string, number: number, name: string | null): Promise<void> {
    return label(this.c, id, number, name);
  }
  sketch(id: string): Promise<string> {
    return sketch(this.c, id);
  }
  revisionSketch(id: string, number: number): Promise<string> {
    return revisionSketch(this.c, id, number);
  }

  create(checked: Checked): Promise<StoredText> {
    return create(this.c, checked);
  }
  check(kind: 'create' | 'save', body: Uint8Array, key?: Key): Promise<Checked> {
    return check(this.c, kind, body, key);
  }
  async save(id: string, body: Uint8Array, beside = false): Promise<SaveAnswer> {
    const answer = await save(this.c, id, body, beside);
    this.all.saved(id, answer.revision);
    return answer;
  }
  copy(id: string, asSave: string): Promise<StoredText> {
    return copy(this.c, id, asSave);
  }
  shapes(id: string): Promise<string[]> {
    return shapes(this.c, id);
  }
  shape(id: string, hash: string): ReturnType<typeof shapeContent> {
    return shapeContent(this.c, id, hash);
  }
  storeShape(id: string, hash: string, body: Uint8Array): Promise<void> {
    return storeShape(this.c, id, hash, body, this.c.shapeLimits ?? SHAPE_LIMITS);
  }
  releases(id: string): Promise<ReleaseLine[]> {
    return releases(this.c, id);
  }
  release(id: string, body: Uint8Array): Promise<ReleaseLine> {
    return release(this.c, id, body);
  }
  releaseFile(id: string, letter: string, name: string): ReturnType<typeof releaseFile> {
    return releaseFile(this.c, id, letter, name);
  }
  remarks(id: string, since: number): Promise<RemarksAnswer> {
    return remarks(this.c, id, since);
  }
  addRemark(id: string, remark: NewRemark): Promise<RemarkLine> {
    return addRemark(this.c, id, remark);
  }
  changeRemark(id: string, remark: string, text: string): Promise<RemarkLine> {
    return changeRemark(this.c, id, remark, text);
  }
  resolveRemark(id: string, remark: string, resolved: boolean): Promise<RemarkLine> {
    return resolveRemark(this.c, id, remark, resolved);
  }
  removeRemark(id: string, remark: string): Promise<void> {
    return removeRemark(this.c, id, remark);
  }
  remove(id: string): Promise<void> {
    return remove(this.c, id);
  }
  restore(id: string): Promise<StoredText> {
    return restore(this.c, id);
  }
}
