import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import { defineConfig, globalIgnores } from 'eslint/config';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

export default defineConfig(
	globalIgnores([
		'build/',
		'src/lib/core/words/compiled/',
		'.svelte-kit/',
		'.data/',
		'test-results/',
		'node_modules/'
	]),
	js.configs.recommended,
	ts.configs.recommended,
	svelte.configs.recommended,
	svelte.configs.prettier,
	{ languageOptions: { globals: { ...globals.browser, ...globals.node } } },
	{
		files: ['**/*.ts', '**/*.svelte'],
		rules: {
			'no-undef': 'off',
			'@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
			// links and goto() name plain paths: the application is served at the root of its address
			'svelte/no-navigation-without-resolve': 'off',
			// a space at the edge of a block survives only inside braces
			'svelte/no-useless-mustaches': 'off',
			// runes and props do what stores did; without any, the rule that looks for them would take a third of the time
			'svelte/require-store-reactive-access': 'off',
			'no-restricted-imports': ['error', { paths: ['svelte/store'] }]
		}
	},
	{
		// state classes hold plain maps inside what is derived anew, or on purpose outside of what is drawn
		files: ['**/*.svelte.ts'],
		rules: { 'svelte/prefer-svelte-reactivity': 'off' }
	},
	{ files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: {
			parserOptions: {
				projectService: true,
				extraFileExtensions: ['.svelte'],
				parser: ts.parser,
				svelteConfig
			}
		}
	},
	{
		files: ['src/lib/core/**/*.ts'],
		ignores: ['**/*.test.ts'],
		rules: {
			'no-restricted-globals': ['error', 'window', 'document', 'process', 'Buffer', 'fetch'],
			'no-restricted-properties': [
				'error',
				{ object: 'Date', property: 'now', message: 'the clock is an argument' },
				{ object: 'Math', property: 'random', message: 'chance is an argument' }
			]
		}
	}
);
