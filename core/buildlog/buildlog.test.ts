import { describe, expect, it } from 'vitest';

import { MAX_LOG_LENGTH, readBuildLog } from '#core/buildlog';
import { unwrap } from '#core/problem';
import { cleatPlateExercise } from '#demo/exercises';

const operations = (text: string) => unwrap(readBuildLog(text)).steps.map(({ operation }) => operation);
const problemOf = (text: string) => {
  const result = readBuildLog(text);
  return result.ok ? null : result.problem.code;
};

describe('a list of build steps', () => {
  it('in ordinary words, a step a line', () => {
    expect(
      operations(
        [
          '1. Extrude base plate 10 mm',
          '2) Boss on top, round',
          'Step 3: Cut slot',
          '- Hole 8 through all',
          '* Rounded all edges R2',
          '• Chamfer 1 x 45',
          'Mirror to the other side',
        ].join('\n'),
      ),
    ).toEqual(['extrude', 'extrude', 'extrude', 'hole', 'fillet', 'chamfer', 'mirror']);
  });

  it.each([
    ['Full round on the lug', 'full-round'],
    ['Circular pattern of holes, 6', 'circular-pattern'],
    ['Pattern around the axis', 'circular-pattern'],
    ['Linear pattern', 'linear-pattern'],
    ['Revolved outline', 'revolve'],
    ['Turned the profile about the axis', 'revolve'],
    ['Counterbored hole', 'hole'],
    ['tapped M6', 'hole'],
    ['external thread M12', 'thread'],
    ['beveled edge', 'chamfer'],
    ['round bar, extruded', 'extrude'],
    ['Gusset', 'rib'],
    ['Lofted neck', 'loft'],
    ['datum plane 30 off', 'plane'],
    ['Hole4', 'hole'],
    ['BaseExtrude', 'extrude'],
  ])('understands "%s"', (text, operation) => {
    expect(operations(text)).toEqual([operation]);
  });

  it('says how deep where it says so', () => {
    const extents = unwrap(
      readBuildLog('Cut through all\nExtrude up to next\nExtrude, both sides\nExtrude 12'),
    ).steps.map(({ extent }) => extent);
    expect(extents).toEqual(['through', 'up-to', 'symmetric', null]);
  });

  it('counts outlines apart, and keeps what it did not understand for correction', () => {
    expect(unwrap(readBuildLog('Sketch 1\nExtrude\n\nthe thing on the left'))).toMatchObject({
      outlines: 1,
      unread: [{ line: 4, text: 'the thing on the left' }],
    });
  });

  it('as a table, whatever the order of its columns, with or without a heading', () => {
    const table = 'No;Name;Kind\n1;Plate;Extrude\n2;Bolt holes;Hole\n3;Corners;Fillet';
    expect(unwrap(readBuildLog(table))).toMatchObject({ format: 'csv' });
    expect(operations(table)).toEqual(['extrude', 'hole', 'fillet']);
    expect(operations('Extrude,plate\nHole,four\nFillet,edges')).toEqual(['extrude', 'hole', 'fillet']);
  });

  it('a sentence with a comma is no table', () => {
    expect(unwrap(readBuildLog('Extrude plate, 10 high\nHole 8, through')).format).toBe('text');
  });

  it('as JSON: texts, or objects that name the step in some way', () => {
    expect(operations('["Extrude plate", "Hole 8"]')).toEqual(['extrude', 'hole']);
    expect(operations('{"steps":[{"name":"Plate","type":"extrude"},{"op":"fillet"}]}')).toEqual(['extrude', 'fillet']);
  });

  it('as a recipe, which is kept whole', () => {
    const log = unwrap(readBuildLog(JSON.stringify(cleatPlateExercise.recipe)));
    expect(log.recipe?.name).toBe(cleatPlateExercise.recipe.name);
    expect(log.steps.map(({ operation }) => operation)).toEqual(cleatPlateExercise.recipe.steps.map(({ op }) => op));
  });

  it('is empty where nothing was written', () => {
    expect(unwrap(readBuildLog('  \n ')).steps).toEqual([]);
  });

  it.each([
    ['quite a nice afternoon', 'log-without-steps'],
    ['{"steps": 3}', 'log-without-steps'],
    ['\u0000\u0001\u0002', 'log-without-steps'],
    ['x'.repeat(1_000_000), 'log-too-long'],
    ['Extrude\n'.repeat(MAX_LOG_LENGTH / 10), 'log-too-long'],
  ])('of nonsense or of a megabyte is refused', (text, code) => {
    expect(problemOf(text)).toBe(code);
  });
});
