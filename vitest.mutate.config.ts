import { readFileSync } from 'node:fs';
import path from 'node:path';

import { mergeConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';
import * as v from 'valibot';

import base from './vitest.config.ts';

/** How long each test file took before anything was changed, milliseconds by its path; `npm run mutate` says where. */
const durationsMs = new Map(
  Object.entries(
    v.parse(v.record(v.string(), v.number()), JSON.parse(readFileSync(process.env['ZORVET_DURATIONS'] ?? '', 'utf8'))),
  ),
);

/** Quick test files first: most changes are noticed before a slow one begins. */
class QuickFirst extends BaseSequencer {
  override sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const durationOf = ({ moduleId }: TestSpecification) =>
      durationsMs.get(path.relative(process.cwd(), moduleId)) ?? 0;
    return Promise.resolve([...files].sort((a, b) => durationOf(a) - durationOf(b)));
  }
}

export default mergeConfig(base, { test: { sequence: { sequencer: QuickFirst } } });
