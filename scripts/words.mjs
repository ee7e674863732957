// Compiles messages/*.json, the words that customers read, into typed functions (src/lib/core/words/compiled). Nothing is fetched.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import process from 'node:process';
import { fileURLToPath } from 'node:url';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
const project = path.join(root, 'project.inlang');
const outdir = path.join(root, 'src/lib/core/words/compiled');
const stamp = path.join(outdir, '.of');

/** What the compiled words are made from. */
function digest() {
	const hash = createHash('sha256');
	const messages = path.join(root, 'messages');
	for (const name of readdirSync(messages).sort())
		hash.update(name).update(readFileSync(path.join(messages, name)));
	hash.update(readFileSync(path.join(project, 'settings.json')));
	return hash.update(readFileSync(path.join(root, 'package-lock.json'))).digest('hex');
}

/** Compiles the words where they have changed since; packages are installed before. */
export async function ensureWords() {
	const now = digest();
	if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
	const { compile } = await import('@inlang/paraglide-js');
	await compile({
		project,
		outdir,
		strategy: ['baseLocale'],
		outputStructure: 'locale-modules',
		emitPrettierIgnore: false,
		emitGitIgnore: false,
		emitReadme: false
	});
	mkdirSync(outdir, { recursive: true });
	writeFileSync(stamp, now);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await ensureWords();
