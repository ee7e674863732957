// The mutation score of rooms of core: npm run mutate -- ROOM [ROOM ...]. Small changes are made to the room's code one by
// one; a change that no unit test notices is a survivor. Takes minutes a room; no part of npm test. The table of scores
// stands in CONTRIBUTING.md. A large room can be sampled: npm run mutate -- --every=3 ROOM takes every third stretch of ten lines.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import process from 'node:process';
import { ensurePackages, root } from './setup.mjs';

const core = path.join(root, 'src/lib/core');
const words = process.argv.slice(2);
const rooms = words.filter((word) => !word.startsWith('-'));
const every = Number(words.find((word) => word.startsWith('--every='))?.slice('--every='.length) ?? 1);
const known = readdirSync(core);
const odd = rooms.find((room) => !known.includes(room.split('/')[0]));
if (rooms.length === 0 || odd) {
	console.log(`${odd ?? 'no room'}: say which rooms of core: ${known.join(', ')}`);
	process.exit(2);
}
await ensurePackages();

/** A room's own tests and those against published values: what else runs through it by the way is not counted on. */
const testsOf = (room) =>
	`src/lib/core/${room.split('/')[0]}/**/*.test.ts,src/lib/csv/**/*.test.ts,tests/reference/**/*.test.ts`;
const STRETCH = 10;
/** Files of a room that are changed, or every so many stretches of them. */
function changed(room) {
	if (every === 1) return [`src/lib/core/${room}/**/*.ts`, '!src/lib/core/**/*.test.ts'];
	const files = readdirSync(path.join(core, room), { recursive: true }).filter(
		(name) => name.endsWith('.ts') && !name.endsWith('.test.ts')
	);
	let stretch = 0;
	return files.sort().flatMap((name) => {
		const file = `src/lib/core/${room}/${name}`;
		const lines = readFileSync(path.join(root, file), 'utf8').split('\n').length;
		const starts = Array.from({ length: Math.ceil(lines / STRETCH) }, (_, i) => 1 + i * STRETCH);
		return starts
			.filter(() => stretch++ % every === 0)
			.map((start) => `${file}:${start}-${Math.min(lines, start + STRETCH - 1)}`);
	});
}

/** Texts are not changed: what the program says is looked at, not counted. */
const settings = (room) => ({
	packageManager: 'npm',
	testRunner: 'vitest',
	plugins: ['@stryker-mutator/vitest-runner'],
	vitest: { configFile: 'vitest.mutate.config.ts', related: true },
	coverageAnalysis: 'perTest',
	// what runs while files are loaded alone (tables, constants) would need every test for every change
	ignoreStatic: true,
	ignorePatterns: ['!.svelte-kit', 'build', '.data', 'docs/screenshots', 'static'],
	mutate: changed(room),
	mutator: { excludedMutations: ['StringLiteral'] },
	reporters: ['json', 'clear-text', 'progress-append-only'],
	clearTextReporter: { allowColor: false, logTests: false, reportTests: false, reportScoreTable: false },
	jsonReporter: { fileName: `test-results/mutation-${room.replaceAll('/', '-')}.json` },
	concurrency: availableParallelism(),
	timeoutMS: 8_000,
	tempDirName: 'test-results/stryker',
	disableTypeChecks: true
});

const KILLED = new Set(['Killed', 'Timeout']);
const rows = [];
for (const room of rooms) {
	const name = room.replaceAll('/', '-');
	const config = path.join(root, `stryker.${name}.json`);
	const report = path.join(root, `test-results/mutation-${name}.json`);
	rmSync(report, { force: true });
	writeFileSync(config, JSON.stringify(settings(room)));
	spawnSync(path.join(root, 'node_modules/.bin/stryker'), ['run', path.basename(config)], {
		cwd: root,
		stdio: 'inherit',
		env: { ...process.env, MUTATE_TESTS: process.env.MUTATE_TESTS ?? testsOf(room) }
	});
	rmSync(config, { force: true });
	if (!existsSync(report)) continue;
	const mutants = Object.values(JSON.parse(readFileSync(report, 'utf8')).files).flatMap(
		({ mutants }) => mutants
	);
	const counted = mutants.filter(({ status }) => !['Ignored', 'CompileError'].includes(status));
	const killed = counted.filter(({ status }) => KILLED.has(status)).length;
	rows.push({ room, killed, of: counted.length });
}
console.log('\n| room | killed | of | score |\n| ---- | -----: | -: | ----: |');
for (const { room, killed, of } of rows) {
	console.log(`| \`${room}\` | ${killed} | ${of} | ${((100 * killed) / Math.max(1, of)).toFixed(0)} % |`);
}
