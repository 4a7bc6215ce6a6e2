import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: [
      'core/**/*.test.ts',
      'server/**/*.test.ts',
      'web/**/*.test.ts',
      'cli/**/*.test.ts',
      'demo/**/*.test.ts',
      'runtime/**/*.test.ts',
      'print/**/*.test.ts',
    ],
    pool: 'forks',
    maxWorkers: '100%',
    // Files of one worker share what they load: the geometry kernel above all.
    isolate: false,
    // As the server runs it: most code of the kernel runs too rarely to be worth optimizing.
    execArgv: ['--liftoff-only'],
    testTimeout: 180_000,
    hookTimeout: 180_000,
  },
});
