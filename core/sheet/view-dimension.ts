import type { Vec2 } from '#core/vector';

import type { ViewLines } from './lines.ts';
import type { ViewAxes } from './views.ts';

/** A view that dimensions can be written in, with its lines in view coordinates, mm. */
export interface DimensionView {
  readonly id: string;
  readonly axes: ViewAxes;
  readonly lines: ViewLines;
  /** Whether the inside of the part is shown cut open. */
  readonly section: boolean;
  /** Only dimensions that are asked to be there are written in it. */
  readonly onlyWanted: boolean;
}

/** What an extension line starts from, in the turned coordinates of its dimension: place along it, extent across it. */
export interface Witness {
  readonly at: number;
  readonly low: number;
  readonly high: number;
  /** Where the outermost of like rounds in line with it lie: to either side the extension line may begin there. */
  readonly outermost?: readonly [low: number, high: number];
  /** Where the outline of the whole part touches it, where it only does in part: extension lines begin there. */
  readonly touched?: readonly [low: number, high: number];
}

/** Words that belong to one check; null for what is said of no check. */
export interface Run {
  readonly text: string;
  readonly checkId: string | null;
}

/** What a leader may point at: a circle, a piece of one, or a point (radius 0). View coordinates, mm. */
export interface LeaderTarget {
  readonly center: Vec2;
  readonly radius: number;
  /** Where on the circle the arrow may touch, rad; null when anywhere. */
  readonly at: number | null;
}

interface Common {
  /** Of its first check; of a thread without check, the id of its step. */
  readonly id: string;
  readonly viewId: string;
  /** Ends that are measured to lines which are hidden in the view. */
  readonly hiddenEnds: number;
}

/** A dimension in the coordinates of its view, before its place is chosen. */
export type ViewDimension =
  | (Common & {
      readonly kind: 'linear';
      readonly text: string;
      /** Direction that it is measured along: 0 is to the right, more than -90 and at most 90 degrees. */
      readonly angle: number;
      readonly from: Witness;
      readonly to: Witness;
    })
  /** A distance from a common face, written at the end of its extension line. */
  | (Common & {
      readonly kind: 'ordinate';
      readonly text: string;
      /** 0 for places that are counted to the right, a quarter turn for those counted upwards. */
      readonly angle: number;
      readonly to: Witness;
      /** The face that is counted from. */
      readonly isDatum: boolean;
    })
  | (Common & {
      readonly kind: 'leader';
      readonly rows: readonly (readonly Run[])[];
      readonly targets: readonly LeaderTarget[];
      /** The circle is drawn as a center line, as that through the axes of holes. */
      readonly circle: LeaderTarget | null;
    })
  | (Common & {
      readonly kind: 'angular';
      readonly text: string;
      readonly apex: Vec2;
      /** Directions of the two legs from the apex, rad, and how far the faces begin from it. */
      readonly legs: readonly [Leg, Leg];
    });
export interface Leg {
  readonly angle: number;
  /** What the leg runs along, as distances from the apex in its direction: from `low` to `high`, mm. */
  readonly low: number;
  readonly high: number;
}

/** Turns a point so that the direction `angle` lies to the right. */
export const turned = ([x, y]: Vec2, angle: number): Vec2 => [
  x * Math.cos(angle) + y * Math.sin(angle),
  y * Math.cos(angle) - x * Math.sin(angle),
];
