import js from '@eslint/js';
import importX from 'eslint-plugin-import-x';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import tseslint from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** The arrows of docs/architecture.md: who may not import from where. */
const walls = [
	{ target: './src/core', from: ['./src/engine', './src/server', './src/lib', './src/routes', './standins'] },
	{ target: './src/engine', from: ['./src/server', './src/lib', './src/routes'] },
	{ target: './src/server', from: ['./src/engine', './src/lib', './src/routes', './standins'] },
	{ target: './src/lib', from: ['./src/server', './src/routes', './standins'] },
	{ target: './src/routes', from: ['./standins'] },
	{ target: './standins/host', from: ['./src/engine', './src/server', './src/lib', './src/routes', './src/core/show'] },
	{ target: './standins/venue', from: ['./src/server', './src/lib', './src/routes'] },
	{ target: './standins/proxy', from: ['./src/engine', './src/lib', './src/routes'] },
	{ target: './standins/guest', from: ['./src/server', './src/lib', './src/routes'] },
];

export default tseslint.config(
	{
		ignores: [
			'build',
			'.svelte-kit',
			'data',
			'test-results',
			'src/core/*/kernels/assembly',
			'src/core/*/kernels/build',
			'standins/venue/make/scenes.js',
			'standins/venue/make/clips.js',
		],
	},
	js.configs.recommended,
	...tseslint.configs.strict,
	...svelte.configs.recommended,
	{
		plugins: { 'import-x': importX },
		settings: {
			'import-x/resolver-next': [importX.createNodeResolver({ extensions: ['.ts', '.mjs', '.js', '.svelte'] })],
			'import-x/extensions': ['.ts', '.mjs'],
			'import-x/ignore': ['node_modules', '\\.svelte$'],
			'import-x/parsers': { '@typescript-eslint/parser': ['.ts'] },
		},
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			// TypeScript sees undefined names itself.
			'no-undef': 'off',
			'import-x/no-restricted-paths': ['error', { zones: walls }],
			'import-x/no-cycle': ['error', { ignoreExternal: true }],
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
			// Where a value is certain to the reader and not to the compiler, "!" says so; the strict flags do the rest.
			'@typescript-eslint/no-non-null-assertion': 'off',
			'@typescript-eslint/no-invalid-void-type': 'off',
			'no-console': 'error',
		},
	},
	{
		// Rules that need types; components are checked without them.
		files: ['**/*.ts'],
		ignores: ['**/*.svelte.ts'],
		languageOptions: {
			parserOptions: { project: ['./tsconfig.json', './tsconfig.node.json'], tsconfigRootDir: import.meta.dirname },
		},
		rules: {
			'@typescript-eslint/no-floating-promises': 'error',
			'@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
		},
	},
	{
		// The two places where stand-ins enter.
		files: ['src/engine/**'],
		ignores: ['src/engine/sources/stand-ins.ts', 'src/engine/guests/stand-in-guest.ts'],
		rules: { 'no-restricted-imports': ['error', { patterns: ['**/standins/**'] }] },
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: { parserOptions: { parser: tseslint.parser, extraFileExtensions: ['.svelte'], svelteConfig } },
		// Pages are served from the root of their host only.
		rules: { 'svelte/no-navigation-without-resolve': 'off' },
	},
	{
		// Packages first, then what lies farther up, then what is near.
		files: ['src/lib/**'],
		rules: {
			'import-x/order': [
				'error',
				{
					groups: [['builtin', 'external'], 'internal', 'parent', ['sibling', 'index']],
					'newlines-between': 'never',
					alphabetize: { order: 'asc', caseInsensitive: true },
				},
			],
		},
	},
	{
		// Controls are Flowbite's, through src/lib/ui. CONTRIBUTING.md says why each of these files has a plain one.
		files: ['src/**/*.svelte'],
		ignores: ['src/lib/desk/pictures/Placer.svelte', 'src/lib/mix/Fader.svelte'],
		rules: {
			'svelte/no-restricted-html-elements': [
				'error',
				{
					elements: ['button', 'input', 'select', 'textarea', 'label', 'details', 'table', 'progress', 'dialog'],
					message: 'Take the component of Flowbite or of src/lib/ui.',
				},
			],
		},
	},
	{ files: ['command/**', 'bench/**', 'standins/**', 'tests/**'], rules: { 'no-console': 'off' } },
);
