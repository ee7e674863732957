import path from 'node:path';
import process from 'node:process';

/**
 * The build that runs, by the hash of what it was made of: what one build keeps in its own shape, another does not read.
 * Empty in development, where shapes change with every line.
 */
export function thisBuild(): string {
	const file = process.env.TAVREK_WORKER;
	return file ? path.basename(path.dirname(file)) : '';
}
