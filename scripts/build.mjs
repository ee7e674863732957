// Builds the application where its source has changed. Each state of the source has a folder of its
// own, so that a server that runs never finds its files replaced.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync, utimesSync } from 'node:fs';
import path from 'node:path';
import process from 'node:process';
import { root, runLong, say, stop } from './setup.mjs';

const SOURCES = [
	'src',
	'static',
	'package-lock.json',
	'svelte.config.js',
	'vite.config.ts',
	'vite.worker.config.ts',
	'tsconfig.json'
];
const KEPT = 3;

function filesUnder(entry) {
	if (!existsSync(entry)) return [];
	if (!statSync(entry).isDirectory()) return [entry];
	return readdirSync(entry)
		.sort()
		.flatMap((name) => filesUnder(path.join(entry, name)));
}

function sourceDigest() {
	const hash = createHash('sha256');
	for (const file of SOURCES.flatMap((entry) => filesUnder(path.join(root, entry)))) {
		if (file.endsWith('.test.ts')) continue;
		hash.update(path.relative(root, file)).update('\0').update(readFileSync(file)).update('\0');
	}
	return hash.digest('hex').slice(0, 16);
}

/** @returns {Promise<string>} the folder of a build of the source as it stands */
export async function ensureBuild() {
	const builds = path.join(root, 'build');
	const target = path.join(builds, sourceDigest());
	if (existsSync(path.join(target, 'index.js'))) {
		utimesSync(target, new Date(), new Date());
		return target;
	}
	say('building the application (under a minute)');
	const making = `${target}.making-${process.pid}`;
	const vite = path.join(root, 'node_modules/vite/bin/vite.js');
	const env = { ...process.env, TAVREK_BUILD: path.relative(root, making), NODE_ENV: 'production' };
	for (const config of [[], ['--config', 'vite.worker.config.ts']]) {
		const { code, output } = await runLong(process.execPath, [vite, 'build', ...config], { cwd: root, env });
		if (code !== 0) stop(`the build failed:\n${output}`);
	}
	if (existsSync(target)) rmSync(making, { recursive: true, force: true });
	else renameSync(making, target);
	forgetOld(builds);
	return target;
}

function forgetOld(builds) {
	const age = (name) => statSync(path.join(builds, name)).mtimeMs;
	const old = readdirSync(builds)
		.filter((name) => /^[0-9a-f]{16}$/.test(name))
		.sort((a, b) => age(b) - age(a))
		.slice(KEPT);
	for (const name of old) rmSync(path.join(builds, name), { recursive: true, force: true });
}
