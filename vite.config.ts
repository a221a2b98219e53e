import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { liveSockets } from './src/server/vite-plugin.ts';

export default defineConfig({
	plugins: [tailwindcss(), sveltekit(), liveSockets()],
	worker: { format: 'es' },
	build: { target: 'es2023', chunkSizeWarningLimit: 2000 },
});
