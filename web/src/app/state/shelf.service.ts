import { Injectable, computed, inject, signal } from '@angular/core';
import { firstValueFrom } from 'rxjs';
import { pieceOf, standardPieces, withNewerPiece } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import type { DesignLine } from '@unirota/contract';
import { ApiService } from './api.service';
import type { PieceRequest } from './commands.service';
import { DesignService } from './design.service';

/** The folder of a person's designs that is the shelf: pieces are shared, exported and kept as designs are. */
export const SHELF = 'Shelf';

/** Pieces that are kept for use again. */
@Injectable()
export class ShelfService {
  private readonly api = inject(ApiService);
  private readonly doc = inject(DesignService);
  /** The pieces of the person; undefined until the server has said. */
  readonly pieces = signal<readonly DesignLine[] | undefined>(undefined);
  readonly trouble = signal('');
  /** Made when they are first shown. */
  readonly standard = computed(() => standardPieces());

  async load(): Promise<void> {
    try {
      const all: DesignLine[] = [];
      for (let after: string | undefined, more = true; more;) {
        const page = await firstValueFrom(this.api.list({ order: 'name', search: '', folder: SHELF, ...(after && { after }) }));
        all.push(...page.designs);
        after = page.next;
        more = after !== undefined && all.length < MOST_PIECES;
      }
      this.pieces.set(all);
      this.trouble.set('');
    } catch (e) {
      this.trouble.set((e as Error).message);
    }
  }

  /** Puts items of the open design onto the shelf under a name; what is wrong, in a sentence. */
  async save(ids: readonly Id[], name: string): Promise<string | undefined> {
    const piece = pieceOf(this.doc.design(), ids, name);
    if (!piece) return $localize`Nothing of this can be copied by itself`;
    try {
      const { id } = await firstValueFrom(this.api.create(piece));
      await firstValueFrom(this.api.file(id, SHELF));
      await this.load();
      this.doc.said.set($localize`“${name}” is on the shelf`);
      return undefined;
    } catch (e) {
      return (e as Error).message;
    }
  }

  /** A piece of the shelf as it is now, to be put in. */
  async take(id: Id): Promise<PieceRequest> {
    const { design, revision } = await firstValueFrom(this.api.read(id));
    return { piece: design, origin: { design: id, revision } };
  }

  /** Takes the newest state of a piece over into its group; what is wrong, in a sentence. */
  async takeOver(group: Id): Promise<string | undefined> {
    const origin = this.doc.design().groups?.find((g) => g.id === group)?.origin;
    if (!origin) return undefined;
    try {
      const { design, revision } = await firstValueFrom(this.api.read(origin));
      return this.doc.edit($localize`Take over from the shelf`, (d) => withNewerPiece(d, group, design, revision));
    } catch (e) {
      return (e as Error).message;
    }
  }
}
/** So many pieces are listed. */
const MOST_PIECES = 2000;
