import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import * as v from 'valibot';
import { it } from 'vitest';
import { ExerciseSchema } from '#core/exercise';
import { prepareExercise, gradeFile } from '#core/attempt';
import { loadTestKernel } from '../kernel/testing/load.ts';
it('x', async () => {
  const kernel = await loadTestKernel();
  for (const f of readdirSync('demo/exercises')) {
    const ex = v.parse(ExerciseSchema, JSON.parse(readFileSync('demo/exercises/' + f, 'utf8')));
    const t = performance.now();
    const p = prepareExercise(kernel, ex);
    if (!p.ok) { console.log(f, p.problem); continue; }
    const t1 = performance.now();
    console.log(f, t1 - t, p.value.failing, p.value.reference.solid.massProperties.volumeMm3, p.value.reference.solid.faces.length, p.value.step.length);
    writeFileSync('/tmp/' + f + '.svg', p.value.sheetSvg); writeFileSync('/tmp/' + f + '.step', p.value.step);
    const g = gradeFile(kernel, p.value.reference, p.value.step, [], ex.scoring);
    console.log(performance.now() - t1, g.ok ? [g.value.report.score, g.value.report.frame.kind, g.value.report.frame.agreement, g.value.report.causes, g.value.solid.source, g.value.report.lines.filter(l=>l.verdict!=='right').map(l=>[l.checkId,l.measured,l.nominal])] : g.problem);
  }
});
