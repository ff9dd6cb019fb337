import type { Design, Id, SavedView } from '../fields/types';
import { changed, freshId, withoutGaps } from './items';

/** Saves a view of the layout under the next free name. */
export function withView(design: Design, view: Omit<SavedView, 'id' | 'name'>): Design {
  const views = design.views ?? [];
  const id = freshId(new Set(views.map((v) => v.id)), 'view');
  return { ...design, views: [...views, { id, name: `View ${id.slice(4)}`, ...view }] };
}

/** A saved view under another name. */
export const withViewNamed = (design: Design, id: Id, name: string): Design => ({
  ...design,
  views: design.views && changed(design.views, id, (v) => ({ ...v, name })),
});

/** Deletes a saved view. */
export function withoutView(design: Design, id: Id): Design {
  const views = (design.views ?? []).filter((v) => v.id !== id);
  return withoutGaps({ ...design, views: views.length ? views : undefined });
}
