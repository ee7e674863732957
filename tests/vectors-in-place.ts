import { readFileSync } from 'node:fs';
import type { Plugin } from 'vite';

/**
 * The runner of the tests reads an imported name anew at each use, which costs hot loops ten times their work: what reads and sums vectors
 * is put into the files that import it, as a bundler does.
 */
export const vectorsInPlace: Plugin = {
	name: 'vectors-in-place',
	enforce: 'pre',
	transform: (code) =>
		code.replace(/^import \{([^}]+)\} from '[^']*units\/vector';$/m, (_, names: string) =>
			names
				.split(',')
				.map((name) => VECTOR_HELPERS.get(name.trim()))
				.join(' ')
		)
};
/** by name, each on one line, so that lines keep their numbers */
const VECTOR_HELPERS = new Map(
	readFileSync('src/lib/core/units/vector.ts', 'utf8')
		.replace(/\/\*[^]*?\*\//g, '')
		.split('export ')
		.map((helper) => helper.replaceAll(/\s+/g, ' '))
		.map((helper) => [/^(?:const|function) (\w+)/.exec(helper)?.[1] ?? '', helper])
);
