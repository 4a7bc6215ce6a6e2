/** Bundles everything that runs under Node into dist/node: server, worker, demo, command line, benchmarks. */
import { cp, rm } from 'node:fs/promises';

import { build } from 'esbuild';

const outdir = 'dist/node';
await rm(outdir, { recursive: true, force: true });
await build({
  entryPoints: {
    main: 'server/main.ts',
    admin: 'server/admin.ts',
    worker: 'server/jobs/worker.ts',
    seed: 'demo/seed/seed.ts',
    demo: 'demo/seed/demo.ts',
    'bench-worker': 'demo/seed/bench-worker.ts',
    zorvet: 'cli/zorvet.ts',
    bench: 'bench/attempt.ts',
    corpus: 'bench/corpus.ts',
    faults: 'bench/faults.ts',
    generated: 'bench/generated.ts',
    screenshots: 'e2e/screenshots.ts',
    'json-schema': 'scripts/json-schema.ts',
    keystroke: 'e2e/keystroke.ts',
    'next-student': 'e2e/next-student.ts',
    walk: 'e2e/walk.ts',
  },
  outdir,
  bundle: true,
  splitting: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: true,
  logLevel: 'warning',
});
await cp('server/db/migrations', `${outdir}/migrations`, { recursive: true });
