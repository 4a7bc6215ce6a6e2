import type { Vec2 } from '#core/vector';

/** Kinds of lines, each with its own weight and dash pattern. */
export type LineLayer = 'visible' | 'hidden' | 'center' | 'dimension' | 'frame';

/** An element of the sheet in paper millimeters, origin at the lower left corner, y up. */
export type SheetEntity =
  | {
      readonly kind: 'line';
      readonly layer: LineLayer;
      readonly from: Vec2;
      readonly to: Vec2;
      readonly checkId?: string;
    }
  | {
      readonly kind: 'arc';
      readonly layer: LineLayer;
      readonly center: Vec2;
      readonly radius: number;
      readonly start: number;
      readonly sweep: number;
      readonly checkId?: string;
    }
  | {
      readonly kind: 'polyline';
      readonly layer: LineLayer;
      readonly points: readonly Vec2[];
      readonly checkId?: string;
    }
  /** A filled arrowhead with its tip at `tip`, pointing along `angle` (rad). */
  | { readonly kind: 'arrow'; readonly tip: Vec2; readonly angle: number; readonly checkId?: string }
  | {
      readonly kind: 'text';
      readonly text: string;
      readonly at: Vec2;
      readonly heightMm: number;
      readonly anchor: 'start' | 'middle' | 'end';
      /** Turned counterclockwise by a right angle, as vertical dimensions are. */
      readonly upright?: boolean;
      readonly bold?: boolean;
      readonly checkId?: string;
    };

export interface Sheet {
  readonly widthMm: number;
  readonly heightMm: number;
  /** Paper size over part size. */
  readonly scale: number;
  readonly title: string;
  readonly entities: readonly SheetEntity[];
}

/** "1:2", "1:1", "2:1". */
export const scaleText = (scale: number): string =>
  scale >= 1 ? `${String(Math.round(scale))}:1` : `1:${String(Math.round(1 / scale))}`;

/** Width of a text in paper mm; the lettering is about six tenths as wide as it is high. */
export const textWidth = (text: string, heightMm: number): number => text.length * heightMm * 0.6;
