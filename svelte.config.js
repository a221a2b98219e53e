import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		adapter: adapter({ out: 'build' }),
		alias: { $core: 'src/core', $engine: 'src/engine', $server: 'src/server' },
		typescript: {
			config: (config) => {
				config.include = config.include.filter((/** @type {string} */ path) => !path.includes('test'));
				return config;
			},
		},
	},
};
