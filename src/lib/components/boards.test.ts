import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { buildCatalog } from '$lib/core/catalog/catalog';
import { MINUTE_MS } from '$lib/core/units/instant';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import type { KitPart } from '$lib/core/stock/kit';
import { RunBoard } from './run/run-board.svelte';
import {
	answer,
	fresh,
	NOW,
	releaseClock,
	server,
	settled,
	standClock,
	store,
	viewOf
} from './states-fixture';
import { KitChoice } from './ticket/kit-choice.svelte';
import type { TicketView } from '$lib/server/tickets/view';
import { TicketDesk } from './ticket/desk.svelte';
import { HandOverDraft } from './ui/hand-over.svelte';
import { ImportRun } from './ui/import-run.svelte';
import { OutboxState } from './ui/outbox.svelte';
import { WaitBoard, type BoardWait } from './ui/wait-board.svelte';
import { LogReading } from './workbook/log-reading.svelte';

const workers = vi.hoisted(() => ({ open: (): unknown => null }));
vi.mock('./workbook/open-log-worker', () => ({ openLogWorker: () => workers.open() }));

beforeEach(standClock);
afterEach(releaseClock);

const catalog = buildCatalog(DEMO_CATALOG);
const procedure = [...catalog.procedures.values()].find(({ steps }) =>
	steps.some(({ kind }) => kind === 'wait')
)!;

describe('a procedure that is followed', () => {
	function board(beside: Partial<TicketView> = {}) {
		const shop = server();
		vi.stubGlobal('fetch', shop.fetcher);
		const desk = new TicketDesk(
			{ ...viewOf(fresh), ...beside },
			new OutboxState('ines', store(), shop.fetcher),
			'technician',
			vi.fn()
		);
		desk.follow();
		return { ...shop, desk, run: new RunBoard(desk, () => procedure, 'ines') };
	}
	const enter = async (run: RunBoard) => {
		const next = run.next();
		await settled();
		await next;
	};

	it('begins, does each step once, calls a wait a wait, and comes to its end', async () => {
		const { run, sent } = board();
		expect([run.doing, run.at, run.timed]).toEqual(['begin', 0, false]);
		const seen: string[] = [];
		for (let enters = 0; enters < 60 && run.doing !== 'end'; enters++) {
			seen.push(run.doing);
			await enter(run);
		}
		expect(run.doing).toBe('end');
		expect(run.answered).toHaveLength(procedure.steps.length);
		const done = sent.flatMap(({ change }) =>
			change.verb === 'step' && change.did === 'done' ? change.step : []
		);
		expect(done).toEqual(procedure.steps.map((_, i) => i));
		const waits = procedure.steps.filter(({ kind }) => kind === 'wait').length;
		expect(seen.filter((doing) => doing === 'end-wait')).toHaveLength(waits);
		expect(seen[0]).toBe('begin');
		// Enter never says by itself what came of the repair
		await enter(run);
		expect(sent.at(-1)?.change).not.toMatchObject({ did: 'ended' });
		const ended = run.end({ resolved: true });
		await settled();
		await ended;
		expect(sent.at(-1)?.change).toMatchObject({ did: 'ended', resolved: true });
		expect([run.run, run.doing]).toEqual([null, 'begin']);
	});
	it('a second Enter while the first is on its way does nothing', async () => {
		const { run, sent } = board();
		const both = Promise.all([run.next(), run.next()]);
		expect(run.busy).toBe(true);
		await settled();
		await both;
		expect([sent.length, run.busy]).toEqual([1, false]);
	});
	it('Enter waits for what is to be read with the old port off, and leaving it out does not', async () => {
		const { run, sent, desk } = board({ stageOfRun: 'port-off' });
		expect(desk.stage).toBe('port-off');
		await enter(run);
		expect(run.doing).toBe('step');
		expect(run.left).toBe('nothing was measured with the old port off');
		await enter(run);
		expect(sent).toHaveLength(1);
		const left = run.leaveOut('the meter is away');
		await settled();
		await left;
		expect(sent.at(-1)?.change).toMatchObject({ did: 'skipped', why: 'the meter is away' });
	});
	it('a step that is left out says why and is answered', async () => {
		const { run, sent } = board();
		await enter(run);
		const left = run.leaveOut('no such screw');
		await settled();
		await left;
		expect(sent.at(-1)?.change).toMatchObject({ did: 'skipped', step: 0, why: 'no such screw' });
		expect([run.at, run.answered.map(({ entry }) => entry.did)]).toEqual([1, ['skipped']]);
	});
	it('without a procedure nothing is sent', async () => {
		const { desk, sent } = board();
		const none = new RunBoard(desk, () => null, 'ines');
		await none.next();
		expect([none.step, sent]).toEqual([null, []]);
	});
});

describe('waits that call', () => {
	const wait = (number: string, until: number): BoardWait => ({
		number,
		version: 1,
		model: 'tern-6',
		for: 'cooling',
		note: null,
		until,
		with: 'ines'
	});
	it('count by the server’s clock and call each wait once', async () => {
		const skew = 5 * MINUTE_MS;
		vi.stubGlobal('fetch', () =>
			answer(200, {
				now: NOW + skew,
				waits: [wait('K-1', NOW + skew + 2500), wait('K-2', NOW + skew + 60_000)]
			})
		);
		const over: string[] = [];
		const board = new WaitBoard(({ number }) => over.push(number));
		const stop = board.run();
		await settled();
		expect(board.exactly() - Date.now()).toBe(skew);
		expect(over).toEqual([]);
		await vi.advanceTimersByTimeAsync(2000);
		expect(over).toEqual([]);
		await vi.advanceTimersByTimeAsync(1000);
		expect(over).toEqual(['K-1']);
		// the answer comes again with the same waits
		await vi.advanceTimersByTimeAsync(40_000);
		expect(over).toEqual(['K-1']);
		stop();
		await vi.advanceTimersByTimeAsync(120_000);
		expect(over).toEqual(['K-1']);
	});
	it('with the line away what is known is counted on', async () => {
		let away = false;
		vi.stubGlobal('fetch', () =>
			away
				? Promise.reject(new Error('away'))
				: answer(200, { now: Date.now(), waits: [wait('K-1', NOW + 30_000)] })
		);
		const over: string[] = [];
		const board = new WaitBoard(({ number }) => over.push(number));
		const stop = board.run();
		await settled();
		away = true;
		await vi.advanceTimersByTimeAsync(31_000);
		expect([over, board.waits.length]).toEqual([['K-1'], 1]);
		stop();
	});
	it('an answer that is refused changes nothing', async () => {
		vi.stubGlobal('fetch', () => answer(401, {}));
		const board = new WaitBoard(() => undefined);
		board.waits = [wait('K-1', NOW + 1)];
		await board.ask();
		expect(board.waits).toHaveLength(1);
	});
});

describe('what a repair’s parts are taken from', () => {
	const choice = (sku: string, lot: string | null) =>
		({ sku, lot, label: sku }) as unknown as KitPart['choices'][number];
	const PARTS = [
		{ sku: 'flux', quantity: 1, choices: [choice('flux', null)] },
		{
			sku: 'port',
			quantity: 2,
			choices: [choice('port', 'L-1'), choice('port', 'H-9'), choice('port-b', 'L-4')]
		},
		{ sku: 'gone', quantity: 1, choices: [] }
	] as unknown as KitPart[];
	const signal = new AbortController().signal;
	const asked = async (parts: unknown = PARTS, status = 200) => {
		const calls: string[] = [];
		vi.stubGlobal('fetch', (url: string) => {
			calls.push(url);
			return answer(status, parts);
		});
		const kit = new KitChoice();
		await kit.ask('replace port', 'tern-9', signal);
		return { kit, calls };
	};
	it('takes the first of each, another in turn, and what the shelf lacks not at all', async () => {
		const { kit, calls } = await asked();
		expect(calls).toEqual(['/shelf/kit?operation=replace+port&model=tern-9']);
		expect(kit.taken).toEqual([
			{ sku: 'flux', quantity: 1 },
			{ sku: 'port', quantity: 2, lot: 'L-1' }
		]);
		kit.another();
		expect(kit.taken[1]).toEqual({ sku: 'port', quantity: 2, lot: 'H-9' });
		kit.another();
		expect(kit.taken[1]).toEqual({ sku: 'port-b', quantity: 2, lot: 'L-4' });
		kit.another();
		expect(kit.taken[1]?.lot).toBe('L-1');
	});
	it('forgets the choice with the operation, and keeps it where the same is asked for again', async () => {
		const { kit } = await asked();
		kit.choose(PARTS[1]!, 2);
		await kit.ask('replace port', 'tern-9', signal);
		expect(kit.placeOf(PARTS[1]!)).toBe(2);
		await kit.ask('other', 'tern-9', signal);
		expect(kit.placeOf(PARTS[1]!)).toBe(0);
	});
	it('has nothing to choose where the server refuses, is away, or the view has gone', async () => {
		expect((await asked([], 403)).kit.parts).toEqual([]);
		const kit = new KitChoice();
		vi.stubGlobal('fetch', () => Promise.reject(new Error('away')));
		await kit.ask('replace port', 'tern-9', signal);
		expect(kit.taken).toEqual([]);
		const gone = new AbortController();
		vi.stubGlobal('fetch', () => {
			gone.abort();
			return answer(200, PARTS);
		});
		await kit.ask('replace port', 'tern-9', gone.signal);
		expect(kit.parts).toEqual([]);
		await kit.ask('', 'tern-9', signal);
		expect(kit.operation).toBe('');
	});
});

describe('an import', () => {
	const lines = (...texts: string[]) =>
		new Response(
			new ReadableStream<Uint8Array>({
				start(controller) {
					for (const text of texts) controller.enqueue(new TextEncoder().encode(text));
					controller.close();
				}
			})
		);
	const file = new File(['{}'], 'shop.ndjson');
	const run = async (response: () => Promise<Response>) => {
		vi.stubGlobal('fetch', vi.fn(response));
		const made = new ImportRun();
		const started = made.start(file, 'lenient');
		expect([made.running, made.mode]).toEqual([true, 'lenient']);
		await settled();
		await started;
		expect(made.running).toBe(false);
		return made;
	};
	it('reads lines that are cut anywhere, the last without an end', async () => {
		const made = await run(() =>
			Promise.resolve(lines('{"progress":{"done":1,', '"of":2}}\n{"answer":{"imp', 'orted":2}}'))
		);
		expect(made.progress).toEqual({ done: 1, of: 2 });
		expect([made.answer, made.problem]).toEqual([{ imported: 2 }, null]);
	});
	it.each<[string, () => Promise<Response>, string]>([
		[
			'says what the server found',
			() => Promise.resolve(lines('{"problem":"line 3 is no JSON"}\n')),
			'Nothing was imported: line 3 is no JSON.'
		],
		['says what was refused', () => answer(413, { message: 'too large' }), 'too large'],
		[
			'says that the server answered without words',
			() => Promise.resolve(new Response('x', { status: 502 })),
			'The server answered 502; nothing was imported.'
		],
		[
			'says that the line broke off',
			() => Promise.reject(new Error('away')),
			'The server could not be reached to the end. Look whether it is there, then import again: the same file twice changes nothing.'
		]
	])('%s', async (_, response, problem) => expect((await run(response)).problem).toBe(problem));
	it('that is stopped says so, and the next one begins clean', async () => {
		vi.stubGlobal(
			'fetch',
			(_: string, { signal }: { signal: AbortSignal }) =>
				new Promise((__, reject) => signal.addEventListener('abort', () => reject(new Error('aborted'))))
		);
		const made = new ImportRun();
		const started = made.start(file, 'strict');
		made.stop();
		await started;
		expect(made.problem).toBe('Stopped. Nothing of it was kept.');
		vi.stubGlobal('fetch', () => Promise.resolve(lines('{"answer":{}}')));
		await made.start(file, 'strict');
		expect(made.problem).toBeNull();
	});
});

describe('a log that is read', () => {
	class FakeWorker {
		static all: FakeWorker[] = [];
		onmessage: ((event: { data: unknown }) => void) | null = null;
		onerror: (() => void) | null = null;
		ended = false;
		posted: unknown[] = [];
		constructor() {
			FakeWorker.all.push(this);
		}
		postMessage = (message: unknown) => void this.posted.push(message);
		terminate = () => void (this.ended = true);
	}
	const file = new File(['t,v'], 'charge.csv');
	const reading = () => {
		FakeWorker.all = [];
		workers.open = () => new FakeWorker();
		const made = new LogReading();
		made.read(file, 1.5, null);
		return { made, worker: FakeWorker.all[0]! };
	};
	it('tells how far it is, then what came of it, and lets the worker go', () => {
		const { made, worker } = reading();
		expect(worker.posted).toEqual([{ file, healthyAmps: 1.5, dialect: null }]);
		worker.onmessage?.({ data: { kind: 'progress', share: 0.4, rows: 900 } });
		expect([made.running, made.share, made.rows]).toEqual([true, 0.4, 900]);
		worker.onmessage?.({ data: { kind: 'read', dialect: { x: 1 }, result: {}, trace: {} } });
		expect([made.running, made.done?.name, made.dialect, worker.ended]).toEqual([
			false,
			'charge.csv',
			{ x: 1 },
			true
		]);
	});
	it('says why it cannot be read, and keeps how it was understood', () => {
		const { made, worker } = reading();
		worker.onmessage?.({ data: { kind: 'refused', dialect: { x: 1 }, message: 'no column of volts' } });
		expect([made.problem, made.done, made.dialect]).toEqual([
			'charge.csv: no column of volts',
			null,
			{ x: 1 }
		]);
	});
	it('is cancelled, or fails, and ends its worker; another file ends the one before', () => {
		const first = reading();
		first.made.cancel();
		expect([first.made.cancelled, first.made.running, first.worker.ended]).toEqual([true, false, true]);
		first.made.read(file, null, null);
		expect(first.made.cancelled).toBe(false);
		const second = FakeWorker.all[1]!;
		first.made.read(file, null, null);
		expect(second.ended).toBe(true);
		FakeWorker.all[2]!.onerror?.();
		expect([first.made.problem, first.made.running]).toEqual([
			'charge.csv could not be read here; try again, or cut the file',
			false
		]);
	});
});

describe('a ticket that is passed on', () => {
	const draft = (fields: Partial<HandOverDraft>) => Object.assign(new HandOverDraft(), fields);
	it.each<[string, Partial<HandOverDraft>, string | null, unknown[]]>([
		['to somebody else', { to: 'bram' }, 'ines', [{ verb: 'hand-over', to: 'bram' }]],
		['to nobody', { to: '' }, 'ines', [{ verb: 'hand-over', to: null }]],
		['to who has it, without a word', { to: 'ines' }, 'ines', []],
		['to nobody, where nobody has it', { to: '' }, null, []],
		[
			'to who has it, with words',
			{ to: 'ines', done: 'port off', leftAt: ' ' },
			'ines',
			[{ verb: 'hand-over', to: 'ines', done: 'port off' }]
		]
	])('%s', (_, fields, from, changes) => expect(draft(fields).moving(from)).toEqual(changes));
	it.each<[string, Partial<HandOverDraft>, unknown[]]>([
		['no wait', { minutes: '5' }, []],
		[
			'a wait with its minutes',
			{ wait: 'cure', minutes: '12' },
			[{ verb: 'wait', for: 'cure', minutes: 12 }]
		],
		['minutes that are none', { wait: 'cure', minutes: 'soon' }, [{ verb: 'wait', for: 'cure' }]],
		['no minutes at all', { wait: 'cure', minutes: '0' }, [{ verb: 'wait', for: 'cure' }]]
	])('%s', (_, fields, changes) => expect(draft(fields).waiting).toEqual(changes));
	it('begins anew with who has it', () => {
		const made = draft({ to: 'x', wait: 'cure', minutes: '1', reason: 'a', done: 'b', leftAt: 'c' });
		made.reset('ines');
		expect([made.to, made.waiting, made.moving('ines')]).toEqual(['ines', [], []]);
	});
});
