import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';
import { liveSockets } from './src/server/vite-plugin.ts';

export default defineConfig({
	plugins: [tailwindcss(), sveltekit(), liveSockets()],
	worker: { format: 'es' },
	build: { target: 'es2023', chunkSizeWarningLimit: 2000 },
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
