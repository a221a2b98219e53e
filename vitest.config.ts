import { defineConfig } from 'vitest/config';

/** Apart from vite.config.ts, so that building and starting need nothing that only tests do. */
export default defineConfig({
	test: {
		projects: [
			{
				test: {
					name: 'unit',
					include: ['src/**/*.test.ts', 'standins/**/*.test.ts', 'command/**/*.test.ts'],
					// Nothing here waits for anything; a limit would only say how busy the machine is.
					testTimeout: 120_000,
					hookTimeout: 180_000,
				},
			},
			{
				test: {
					name: 'integration',
					include: ['tests/integration/**/*.test.ts'],
					globalSetup: 'tests/integration/database.setup.ts',
					testTimeout: 120_000,
					hookTimeout: 120_000,
					fileParallelism: false,
				},
			},
		],
	},
});
