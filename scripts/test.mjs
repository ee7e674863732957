// Everything that is checked, in one command: set-up, formatting, lint, types, imports, unit tests, tests
// against a real MariaDB, journeys in a browser. Ends with a line "N passed, N failed" over all parts.
import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import process from 'node:process';
import { ensureBuild } from './build.mjs';
import { freePort, PrivateDatabase } from './private-database.mjs';
import { ensurePackages, ensurePrograms, root, say } from './setup.mjs';

const bin = (name) => path.join(root, 'node_modules', '.bin', name);
const results = path.join(root, 'test-results');
const total = { passed: 0, failed: 0 };

/** Runs a command; its output is shown when it is done, so that parts that run at once stay apart. */
function run(command, args, env = {}) {
	return new Promise((resolve) => {
		const child = spawn(command, args, {
			cwd: root,
			env: { ...process.env, FORCE_COLOR: '0', ...env },
			stdio: ['ignore', 'pipe', 'pipe']
		});
		let output = '';
		child.stdout.on('data', (data) => (output += data));
		child.stderr.on('data', (data) => (output += data));
		child.on('error', (error) => resolve({ code: 1, output: String(error) }));
		child.on('close', (code) => resolve({ code: code ?? 1, output }));
	});
}

function count(name, passed, failed, seconds) {
	total.passed += passed;
	total.failed += failed;
	console.log(`${failed === 0 ? '✓' : '✗'} ${name}: ${passed} passed, ${failed} failed (${seconds} s)`);
}

const since = () => {
	const start = Date.now();
	return () => Math.round((Date.now() - start) / 1000);
};

/** A check that is right or wrong as a whole. */
async function check(name, command, args) {
	const seconds = since();
	const { code, output } = await run(command, args);
	if (code !== 0) console.log(output);
	count(name, code === 0 ? 1 : 0, code === 0 ? 0 : 1, seconds());
	return code === 0;
}

async function vitest(project, ...more) {
	const seconds = since();
	const file = path.join(results, `${project}.json`);
	const reports = ['--reporter=json', `--outputFile=${file}`, '--reporter=default'];
	const args = ['run', '--project', project, ...reports, ...more];
	const { code, output } = await run(bin('vitest'), args);
	const report = readReport(file) ?? { numPassedTests: 0, numFailedTests: 1 };
	const failed = Math.max(report.numFailedTests, code === 0 ? 0 : 1);
	if (failed > 0) console.log(output);
	count(`${project} tests`, report.numPassedTests, failed, seconds());
}

function readReport(file) {
	try {
		return JSON.parse(readFileSync(file, 'utf8'));
	} catch {
		return null;
	}
}

/** Journeys in a browser, one after another, against the built application on a database and a port of its own. */
async function journeys() {
	const seconds = since();
	const port = await freePort(4700);
	const folder = mkdtempSync(path.join(tmpdir(), 'tavrek-journeys-'));
	const server = spawn(process.execPath, [path.join(root, 'scripts/demo.mjs')], {
		cwd: folder,
		env: {
			...process.env,
			PORT: String(port),
			TAVREK_DATA: folder,
			TAVREK_API_TOKEN: 'journeys-token-of-the-tests-alone',
			TAVREK_LOG: 'error',
			DATABASE_URL: ''
		},
		stdio: ['ignore', 'pipe', 'pipe']
	});
	let said = '';
	server.stdout.on('data', (data) => (said += data));
	server.stderr.on('data', (data) => (said += data));
	const address = `http://127.0.0.1:${port}`;
	try {
		await answering(address, server);
		const file = path.join(results, 'journeys.json');
		rmSync(file, { force: true });
		const { code, output } = await run(bin('playwright'), ['test', ...names], {
			TAVREK_ADDRESS: address,
			TAVREK_DATA: folder
		});
		const stats = readReport(file)?.stats ?? { expected: 0, unexpected: 1, flaky: 0 };
		const failed = Math.max(stats.unexpected, code === 0 ? 0 : 1);
		if (failed > 0) console.log(output, said);
		count('journeys', stats.expected + stats.flaky, failed, seconds());
	} catch (error) {
		console.log(error.message, said);
		count('journeys', 0, 1, seconds());
	} finally {
		server.kill('SIGTERM');
		await new Promise((resolve) => (server.exitCode === null ? server.once('close', resolve) : resolve()));
		await new PrivateDatabase(folder).stop();
		rmSync(folder, { recursive: true, force: true });
	}
}

async function answering(address, server) {
	for (let tries = 0; tries < 600; tries++) {
		if (server.exitCode !== null) throw new Error('the server ended before it answered');
		const answer = await fetch(`${address}/sign-in`).catch(() => null);
		if (answer?.ok) return;
		await new Promise((resolve) => setTimeout(resolve, 200));
	}
	throw new Error('the server did not answer in two minutes');
}

/** `npm test -- unit`, `-- database`, `-- journeys [name ...]` run one part; without a word all of it. */
const [part = 'all', ...names] = process.argv.slice(2);
if (!['all', 'unit', 'database', 'journeys'].includes(part)) {
	console.log(`there is no part ${part}; choose unit, database or journeys, or none for all`);
	process.exit(2);
}

await ensurePrograms({ browser: true });
await ensurePackages();
mkdirSync(results, { recursive: true });
await run(bin('svelte-kit'), ['sync']);
/** What is told from the sources alone. */
async function checks() {
	await check('formatting', bin('prettier'), ['--check', '.']);
	await check('imports', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs']);
	await check('types', bin('svelte-check'), ['--tsconfig', './tsconfig.json', '--fail-on-warnings']);
	await check('lint', bin('eslint'), ['.']);
	// what nothing imports, and what only tests would miss
	await check('unused', bin('knip'), ['--no-config-hints']);
	await check('unused in production', bin('knip'), [
		...['--config', 'knip.production.json', '--production', '--no-config-hints'],
		...['--include', 'exports,types,files']
	]);
}

if (part === 'all') {
	say('formatting, lint, imports, types and tests against MariaDB; beside them unit tests and the build');
	// each of the two takes one core, and about as long as the other
	await Promise.all([
		checks().then(() => vitest('database')),
		vitest('unit', '--maxWorkers=1')
			.then(() => vitest('states'))
			.then(() => ensureBuild())
	]);
} else if (part === 'unit') {
	say('unit tests');
	await vitest('unit');
	await vitest('states');
} else if (part === 'database') {
	say('tests against MariaDB');
	await vitest('database');
}
if (part === 'all' || part === 'journeys') {
	await ensureBuild();
	say('journeys in Chromium');
	await journeys();
}
console.log(`\n${total.passed} passed, ${total.failed} failed`);
process.exit(total.failed === 0 ? 0 : 1);
