import { offsetPlane, pointOn } from '#core/kernel';
import type { Vec2 } from '#core/vector';
import { multiply } from '#core/vector';

import type { Context, Outcome } from './context.ts';
import { axisOfRound, meetingLine, middlePlane, planeAt, planeOn, rotation, tangentPlane } from './planes.ts';
import type { StepOf } from './schema.ts';

/** A plane to draw on, made from others. */
export function plane({ by }: StepOf<'plane'>, context: Context): Outcome {
  switch (by.kind) {
    case 'offset': {
      const from = context.plane(by.from);
      return { kind: 'plane', plane: offsetPlane(from, context.values.lengthMm(by.distance, 'distance')) };
    }
    case 'angled': {
      const [from, about] = [by.from, by.about].map((name) => planeOn(context.surface(name), name));
      if (from === undefined || about === undefined) throw new Error('two names give two planes');
      const line = meetingLine(from, about);
      const turn = rotation(line.direction, context.values.angleRad(by.angle, 'angle of the plane'));
      return { kind: 'plane', plane: planeAt(line.origin, multiply(turn, from.normal)) };
    }
    case 'middle': {
      const [a, b] = by.between;
      return { kind: 'plane', plane: middlePlane(planeOn(context.surface(a), a), planeOn(context.surface(b), b)) };
    }
    case 'tangent':
      return {
        kind: 'plane',
        plane: tangentPlane(context.surface(by.to), by.to, context.plane(by.facing).normal),
      };
  }
}

/** A line to turn or to copy about. */
export function axis({ by }: StepOf<'axis'>, context: Context): Outcome {
  switch (by.kind) {
    case 'of':
      return { kind: 'axis', axis: axisOfRound(context.surface(by.surface), by.surface) };
    case 'meeting': {
      const [a, b] = by.between;
      return { kind: 'axis', axis: meetingLine(context.plane(a), context.plane(b)) };
    }
    case 'square': {
      const to = context.plane(by.to);
      const at: Vec2 = [
        context.values.lengthMm(by.at[0], 'place of the axis'),
        context.values.lengthMm(by.at[1], 'place of the axis'),
      ];
      return { kind: 'axis', axis: { origin: pointOn(to, at), direction: to.normal } };
    }
  }
}

/** An external thread; the body stays as it is. */
export function thread(step: StepOf<'thread'>, context: Context): Outcome {
  const surface = context.surface(step.on);
  axisOfRound(surface, step.on);
  const { designation, fit = null, length } = step.thread;
  return {
    kind: 'thread',
    thread: {
      stepId: step.id,
      designation,
      fit,
      surface,
      lengthMm: length === undefined ? null : context.values.sizeMm(length, 'length of the thread'),
      external: true,
    },
  };
}
