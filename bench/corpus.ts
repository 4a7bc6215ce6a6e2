/** `npm run corpus [-- TITLE]`: right submissions in many guises and wrong ones with one alteration, as tables with the failures. */
import { demoExercises, firstExercises } from '#demo/exercises';
import { judgeMirrored, judgeRight, judgeWrong, type Verdict } from '#demo/corpus';
import { loadKernel, loadOverlayer, useBaselineCompiler } from '#runtime';

import { printTable } from './statistics.ts';

const share = (verdicts: readonly Verdict[]): string => {
  const right = verdicts.filter(({ ok }) => ok).length;
  return `${String(right)} of ${String(verdicts.length)} (${((100 * right) / verdicts.length).toFixed(1)} %)`;
};

useBaselineCompiler();
const overlayer = await loadOverlayer();
const wanted = process.argv[2];
const chosen = wanted === undefined ? firstExercises : demoExercises.filter(({ title }) => title.includes(wanted));
const parts = await Promise.all(
  chosen.map(async (exercise) => {
    // A kernel of its own for each part: hundreds of models leave their mark on its memory, which never shrinks.
    const tools = { kernel: await loadKernel(), overlayer };
    process.stderr.write(`${exercise.title} ...\n`);
    const right = judgeRight(tools, exercise);
    return { title: exercise.title, right, ...judgeWrong(tools, exercise), mirrored: judgeMirrored(tools, exercise) };
  }),
);
const all = { right: parts.flatMap(({ right }) => right), wrong: parts.flatMap(({ verdicts }) => verdicts) };
printTable(
  'Correctness corpus',
  ['part', 'right ones with full marks', 'wrong ones with exactly the affected checks', 'not to be built', 'mirrored'],
  [
    ...parts.map(({ title, right, verdicts, unbuilt, mirrored }) => [
      title,
      share(right),
      share(verdicts),
      String(unbuilt),
      mirrored.ok ? 'ok' : mirrored.fault,
    ]),
    ['all', share(all.right), share(all.wrong), String(parts.reduce((sum, part) => sum + part.unbuilt, 0)), ''],
  ],
);
const failures = [...all.right, ...all.wrong].filter(({ ok }) => !ok);
if (failures.length > 0)
  printTable(
    'Failures',
    ['part', 'submission', 'fault'],
    failures.map(({ exercise, name, fault }) => [exercise, name, fault]),
  );
process.exitCode =
  all.right.every(({ ok }) => ok) && all.wrong.filter(({ ok }) => ok).length >= 0.98 * all.wrong.length ? 0 : 1;
