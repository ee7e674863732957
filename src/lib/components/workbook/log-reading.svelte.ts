import type { LogDialect } from '$lib/core/charging/log-dialect';
import type { InterpretedLog } from '$lib/core/charging/interpret-log';
import type { Trace } from '$lib/core/charging/trace-phases';
import { openLogWorker } from './open-log-worker';
import type { LogMessage, LogRequest } from '$lib/workers/meter-log.worker';

export interface ReadResult {
	name: string;
	dialect: LogDialect;
	result: InterpretedLog;
	trace: Trace;
}

/** A log's file on its way through the worker: how far it is, what came of it, and a way to stop it. */
export class LogReading {
	file = $state.raw<File | null>(null);
	running = $state(false);
	share = $state(0);
	rows = $state(0);
	problem = $state('');
	cancelled = $state(false);
	done = $state.raw<ReadResult | null>(null);
	/** how the log was understood, also where it could not be read */
	dialect = $state.raw<LogDialect | null>(null);
	#worker: Worker | null = null;

	/** @param dialect as a person corrected it; found out where it is null */
	read(file: File, healthyAmps: number | null, dialect: LogDialect | null): void {
		this.#end();
		Object.assign(this, {
			file,
			running: true,
			share: 0,
			rows: 0,
			problem: '',
			cancelled: false,
			done: null
		});
		const worker = openLogWorker();
		this.#worker = worker;
		worker.onmessage = ({ data }: MessageEvent<LogMessage>) => this.#take(data, file.name);
		worker.onerror = () => {
			this.problem = `${file.name} could not be read here; try again, or cut the file`;
			this.#end();
		};
		worker.postMessage({ file, healthyAmps, dialect } satisfies LogRequest);
	}

	cancel(): void {
		this.#end();
		this.cancelled = true;
	}

	#take(message: LogMessage, name: string): void {
		if (message.kind === 'progress') {
			this.share = message.share;
			this.rows = message.rows;
			return;
		}
		this.dialect = message.dialect;
		if (message.kind === 'refused') this.problem = `${name}: ${message.message}`;
		else this.done = { name, ...message };
		this.#end();
	}

	#end(): void {
		this.#worker?.terminate();
		this.#worker = null;
		this.running = false;
	}
}
