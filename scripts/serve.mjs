// Serves the built application with its database: what npm start and npm run demo share.
import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { constants } from 'node:zlib';
import path from 'node:path';
import process from 'node:process';
import { pathToFileURL } from 'node:url';
import { ensureBuild } from './build.mjs';
import { PrivateDatabase } from './private-database.mjs';
import { ensurePackages, ensurePrograms, root, say, stop } from './setup.mjs';

/** @param {{ demo: boolean }} options */
export async function serve({ demo }) {
	const port = process.env.PORT ?? '4600';
	const host = process.env.HOST ?? '127.0.0.1';
	const data = path.resolve(root, process.env.TAVREK_DATA ?? '.data');
	const own = !process.env.DATABASE_URL;
	if (own) await ensurePrograms();
	await ensurePackages();
	refuseShortToken();
	const build = await ensureBuild();
	if (await taken(Number(port), host)) {
		stop(`${host}:${port} is in use. Stop what runs there, or choose another: PORT=4601 TAVREK_DATA=.data-2`);
	}
	mkdirSync(data, { recursive: true, mode: 0o700 });
	const database = own ? new PrivateDatabase(data) : null;
	const early = () => void Promise.resolve(database?.stop()).then(() => process.exit(130));
	for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, early);
	if (database) {
		say('starting MariaDB');
		process.env.DATABASE_URL = await database.start();
		process.env.TAVREK_DATABASE_DIR = database.datadir;
		database.watch((url) => (process.env.DATABASE_URL = url));
	}
	process.env.TAVREK_KEY ??= passcodeKey(data);
	process.env.TAVREK_PHOTOS ??= path.join(data, 'photos');
	process.env.HOST = host;
	process.env.PORT = port;
	process.env.ORIGIN ??= `http://${host}:${port}`;
	process.env.BODY_SIZE_LIMIT = 'Infinity'; // every route has its own limit, counted as a body comes: src/hooks.server.ts
	process.env.SHUTDOWN_TIMEOUT ??= '3';
	process.env.NODE_ENV = 'production';
	process.env.TAVREK_WORKER = path.join(build, 'worker.js');
	if (demo) {
		process.env.TAVREK_DEMO = '1';
		say('opening the demo shop (the first time fills it, some seconds)');
	}
	process.once('sveltekit:shutdown', () => {
		void Promise.resolve(database?.stop()).then(() => {
			say('stopped');
			process.exit(0);
		});
	});
	/** The port was taken since it was found free, or nothing can be served there: said, and the database does not stay behind. */
	const cannotServe = async (error) => {
		if (database?.startedHere) await database.stop();
		stop(
			error.code === 'EADDRINUSE'
				? `${host}:${port} was taken by another program while this one started. Stop that, or choose another: PORT=4601 TAVREK_DATA=.data-2`
				: `${host}:${port} cannot be served at: ${error.stack}`
		);
	};
	// the built server listens while it is loaded: what goes wrong with that reaches nobody else
	process.on('uncaughtException', cannotServe);
	// a connection is kept longer than whoever sends over it waits between two: cut off at 5 seconds, as is usual, it is cut while used
	process.env.KEEP_ALIVE_TIMEOUT ??= '75';
	process.env.HEADERS_TIMEOUT ??= '80';
	const { server } = await import(pathToFileURL(path.join(build, 'index.js')).href);
	guardAssets(server.server);
	await listening(server.server);
	process.off('uncaughtException', cannotServe);
	await press(server.server);
	await listening(server.server).catch(async (error) => {
		if (database?.startedHere) await database.stop();
		stop(
			error.code === 'EADDRINUSE'
				? `${host}:${port} was taken by another program while this one started. Stop that, or choose another: PORT=4601 TAVREK_DATA=.data-2`
				: `${host}:${port} cannot be served at: ${error.message}`
		);
	});
	for (const signal of ['SIGINT', 'SIGTERM']) process.off(signal, early); // the server has its own by now
	return { address: `http://${host}:${port}` };
}

/**
 * HTML, JSON and other texts over 1 kB leave compressed; the application's files were compressed when it was built. Each piece of a
 * page leaves as it is written: a newer view comes behind what is shown already.
 */
async function press(server) {
	const { default: compression } = await import('compression');
	const compress = compression({
		threshold: 1024,
		flush: constants.Z_SYNC_FLUSH,
		brotli: { flush: constants.BROTLI_OPERATION_FLUSH },
		// what is read as a stream, or pressed together already, stays as it is
		filter: (request, response) =>
			!/event-stream|zip|ndjson/.test(String(response.getHeader('content-type'))) &&
			compression.filter(request, response)
	});
	server.prependListener('request', (request, response) => compress(request, response, () => undefined));
}

const listening = (server) =>
	server.listening ? Promise.resolve() : new Promise((resolve) => server.once('listening', resolve));

/** The files of the application leave by a way of their own: they carry the same headers as pages. A body always has a kind. */
function guardAssets(server) {
	server.prependListener('request', (request, response) => {
		// who hangs up waits for nothing any more: what was asked is stopped
		const gone = new AbortController();
		request.gone = gone.signal;
		response.once('close', () => {
			if (!response.writableFinished) gone.abort();
		});
		// without a kind the body would be dropped in silence
		const { headers } = request;
		const sends = headers['transfer-encoding'] || Number(headers['content-length'] ?? 0) > 0;
		if (sends) headers['content-type'] ??= 'application/octet-stream';
		response.setHeader('x-content-type-options', 'nosniff');
		response.setHeader('referrer-policy', 'same-origin');
		response.setHeader('x-frame-options', 'DENY');
		response.setHeader('cross-origin-opener-policy', 'same-origin');
		response.setHeader('cross-origin-resource-policy', 'same-origin');
	});
}

function refuseShortToken() {
	const token = process.env.TAVREK_API_TOKEN;
	if (token && token.length < 24)
		stop(
			`TAVREK_API_TOKEN has ${token.length} characters; use at least 24, such as openssl rand -base64 24 makes`
		);
}

/** The key of customers' passcodes: made once, kept outside the database. */
function passcodeKey(data) {
	const file = path.join(data, 'passcode.key');
	if (!existsSync(file)) writeFileSync(file, randomBytes(32).toString('base64url'), { mode: 0o600 });
	return readFileSync(file, 'utf8').trim();
}

function taken(port, host) {
	return new Promise((resolve) => {
		const probe = createServer();
		probe.once('error', (error) => resolve(error.code === 'EADDRINUSE'));
		probe.listen(port, host, () => probe.close(() => resolve(false)));
	});
}
