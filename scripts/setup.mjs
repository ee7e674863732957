// What every command needs before anything else: Debian's packages, npm's packages. Node's own modules only.
import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import process from 'node:process';
import { fileURLToPath } from 'node:url';
import { ensureWords } from './words.mjs';

export const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');
export const say = (text) => console.log(`· ${text}`);

const FOLDERS = ['/usr/sbin', '/usr/bin', '/usr/local/sbin', '/usr/local/bin', '/sbin', '/bin'];
export const findProgram = (name) =>
	FOLDERS.map((folder) => path.join(folder, name)).find((file) => existsSync(file));

/** Runs a long step; says every ten seconds that it is still at it. Answers with its exit code and output. */
export function runLong(command, args, options = {}) {
	return new Promise((resolve) => {
		const child = spawn(command, args, { ...options, stdio: ['ignore', 'pipe', 'pipe'] });
		const since = Date.now();
		const progress = setInterval(
			() => console.log(`  … ${Math.round((Date.now() - since) / 1000)} s`),
			10_000
		);
		let output = '';
		child.stdout.on('data', (data) => (output += data));
		child.stderr.on('data', (data) => (output += data));
		const end = (code, more = '') => {
			clearInterval(progress);
			resolve({ code, output: output + more });
		};
		child.on('error', (error) => end(1, String(error)));
		child.on('close', (code) => end(code ?? 1));
	});
}

/** Package by the program that it brings. */
const DATABASE = { mariadbd: 'mariadb-server-core', 'mariadb-install-db': 'mariadb-server-core' };
const BROWSER = { chromium: 'chromium' };

/** Installs what is missing of Debian's packages, or says exactly what to install and stops. */
export async function ensurePrograms({ browser = false } = {}) {
	const wanted = { ...DATABASE, ...(browser ? BROWSER : {}) };
	const missing = [
		...new Set(
			Object.keys(wanted)
				.filter((name) => !findProgram(name))
				.map((name) => wanted[name])
		)
	];
	if (missing.length === 0) return;
	if (missing.includes('mariadb-server-core')) missing.push('mariadb-client-core');
	const install = `apt-get install -y --no-install-recommends ${missing.join(' ')}`;
	const root = process.getuid?.() === 0;
	const sudo = !root && spawnSync('sudo', ['-n', 'true']).status === 0;
	if (!findProgram('apt-get') || (!root && !sudo)) {
		stop(
			`Missing: ${missing.join(', ')}. Run this once as root, then try again:\n  apt-get update && ${install}`
		);
	}
	say(`installing Debian packages: ${missing.join(', ')} (a minute or two)`);
	const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
	const run = async (command) => {
		const [program, ...args] = [...(sudo ? ['sudo', '-n', '-E'] : []), ...command.split(' ')];
		const { code, output } = await runLong(program, args, { env });
		if (code !== 0) stop(`${command} failed:\n${output}`);
	};
	await run('apt-get update -qq');
	await run(install);
}

/** `npm ci` where the lock file is another than the one that was installed. */
export async function ensurePackages() {
	await installPackages();
	await ensureWords();
}

async function installPackages() {
	const lock = createHash('sha256')
		.update(readFileSync(path.join(root, 'package-lock.json')))
		.digest('hex');
	const stamp = path.join(root, 'node_modules', '.tavrek-lock');
	if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
	say('installing npm packages with npm ci (about a minute)');
	const { code, output } = await runLong('npm', ['ci', '--no-audit', '--no-fund'], { cwd: root });
	if (code !== 0) stop(`npm ci failed; check that the npm registry can be reached:\n${output}`);
	mkdirSync(path.dirname(stamp), { recursive: true });
	writeFileSync(stamp, lock);
}

export function stop(message) {
	console.error(message);
	process.exit(1);
}
