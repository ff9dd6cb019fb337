import { Injectable } from '@angular/core';
import type { Vec3 } from '@unirota/core/math';

/** How the layout looks now, as another picture of it can be made elsewhere. */
export interface LayoutLook {
  readonly view: { from: Vec3; up: Vec3; target: Vec3; height: number };
  /** Colours by “member”, and by “member given” where an element has one of its own. */
  readonly colours: Readonly<Record<string, string>>;
  readonly theme: readonly [ink: string, picked: string, dark: boolean, violet: string, teal: string, paper: string];
  readonly hidden: readonly string[];
  readonly through: readonly string[];
  readonly section: { axis?: 'x' | 'y' | 'z'; share: number };
  readonly dimensions: { circles: boolean; distances: boolean; travel: boolean };
}

/** The layout's picture, for whoever wants it elsewhere: in a film. */
@Injectable()
export class PictureService {
  /** Draws the layout as it is seen into a picture of a size; set by the layout while it is there. */
  draw?: (into: OffscreenCanvasRenderingContext2D, width: number, height: number) => void;
  /** Told when no more pictures are wanted: the layout has its own size again. */
  drawn?: () => void;
  /** How it looks now; set by the layout as well. */
  look?: () => LayoutLook;
}
