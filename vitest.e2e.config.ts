import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['e2e/**/*.test.ts'],
    pool: 'forks',
    // Three keep two cores busy: each waits for its page now and then.
    maxWorkers: 3,
    execArgv: ['--liftoff-only'],
    globalSetup: ['e2e/setup.ts'],
    testTimeout: 400_000,
    hookTimeout: 400_000,
  },
});
