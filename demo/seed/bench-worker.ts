/** Makes the models of simulated students; see bench.ts. */
import type { Result } from '#core/problem';
import { modelLikeStudent, type HandIn } from '#demo/workbench';
import { loadKernel } from '#runtime';

import type { BenchTask } from './bench.ts';

const kernel = await loadKernel();

export default ({ exercise, slip }: BenchTask): Result<HandIn> => modelLikeStudent(kernel, exercise, slip);
