import type { Vec3 } from '@unirota/core/math';
import type { SurfaceContents } from './imported';

/** How the layout looks now, as another picture of it can be made elsewhere. */
export interface LayoutLook {
  readonly view: { from: Vec3; up: Vec3; target: Vec3; height: number };
  /** Colours by “member”, and by “member given” where an element has one of its own. */
  readonly colours: Readonly<Record<string, string>>;
  readonly theme: readonly [ink: string, picked: string, dark: boolean, violet: string, teal: string, paper: string];
  readonly hidden: readonly string[];
  readonly through: readonly string[];
  readonly section: { axis?: 'x' | 'y' | 'z'; share: number };
  /** Surfaces of imported shapes. */
  readonly contents: SurfaceContents;
  readonly dimensions: { circles: boolean; distances: boolean; travel: boolean };
}
