import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
	preprocess: vitePreprocess(),
	kit: {
		adapter: adapter({ out: 'build' }),
		csp: {
			directives: {
				'default-src': ['none'],
				'script-src': ['self', 'wasm-unsafe-eval'],
				'worker-src': ['self', 'blob:'],
				// Sizes and places that are computed stand in style attributes.
				'style-src': ['self', 'unsafe-inline'],
				'img-src': ['self', 'data:', 'blob:'],
				'media-src': ['self', 'blob:'],
				'font-src': ['self'],
				'connect-src': ['self', 'blob:'],
				'manifest-src': ['self'],
				'form-action': ['self'],
				'base-uri': ['none'],
				'frame-ancestors': ['none'],
			},
		},
		// The door in front of all routes asks for more (src/server/access/guard.ts).
		alias: { $core: 'src/core', $engine: 'src/engine', $server: 'src/server' },
		typescript: {
			config: (config) => {
				config.include = config.include.filter((/** @type {string} */ path) => !path.includes('test'));
				return config;
			},
		},
	},
};
