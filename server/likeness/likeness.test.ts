import { describe, expect, it } from 'vitest';

import type { LikenessAnswer } from '#api';
import type { Graded, Outcome } from '#server/jobs';

import { GRADED, openSchool, type School } from '../testing/fixture.ts';

const alikeOf = async (school: School, login = 'orla'): Promise<LikenessAnswer> =>
  (await (await school.request(login, 'GET', '/api/assignments/1/alike')).json()) as LikenessAnswer;

const step = (time: string, author: string): string =>
  `ISO-10303-21;\nHEADER;\nFILE_NAME('part','${time}',('${author}'),('Bench'),'x','y','');\nENDSEC;\nDATA;\n#1=POINT(0.,0.);\nENDSEC;\n`;

/** A wrong part that two mistakes explain completely, of the shares 2 and 1: one wrong part in 5,000 is like it, one file in 50,000. */
function wrong(): Outcome<Graded> {
  if (GRADED.kind !== 'done') throw new Error('no outcome');
  const { value } = GRADED;
  const mistake = (id: string, prior: number) => ({
    id,
    kind: 'digits-swapped' as const,
    prior,
    edits: [{ kind: 'drop' as const, stepId: 'a' }] as const,
    expression: null,
    stepIds: ['a'],
    message: 'A size is wrong.',
    summary: 'size',
  });
  return {
    kind: 'done',
    value: {
      ...value,
      measurement: { ...value.measurement, checks: [] },
      diagnosis: {
        hypotheses: [
          {
            mistakes: [mistake('one', 2), mistake('two', 1)],
            certainty: 0.9,
            fit: 'complete',
            checks: [],
            roots: [],
            same: [],
            inPlace: false,
          },
        ],
      },
    },
  };
}

describe('hand-ins that are alike', () => {
  it('are told to those who review them: a wrong model twice, and a file from before the exercise was open', async () => {
    const school = await openSchool(wrong);
    await school.handIn('ansel', 1, step('2026-05-04T10:00:00', 'Ansel'));
    await school.handIn('fia', 1, step('2026-04-01T10:00:00', 'Fia'));
    await school.queue.idle();
    const answer = await alikeOf(school, 'tilda');
    expect(answer).toMatchObject({
      looked: 2,
      pairs: [
        {
          kind: 'same-model',
          attempts: [{ student: 'ansel' }, { student: 'fia' }],
          words: [
            'The two files say the same behind their headers.',
            'Of two wrong parts by honest students, about one pair in 50000 would be alike so.',
          ],
        },
      ],
      older: [{ student: 'fia', writtenAt: '2026-04-01T10:00:00' }],
    });
  });

  it('are nothing where a part has not been looked into, and never told to students or other schools', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'solid a');
    await school.handIn('fia', 1, 'solid b');
    await school.queue.idle();
    expect(await alikeOf(school)).toMatchObject({ looked: 2, pending: 2, pairs: [], older: [] });
    for (const login of ['ansel', 'pim', null])
      expect([401, 403, 404]).toContain((await school.request(login, 'GET', '/api/assignments/1/alike')).status);
  });
});
