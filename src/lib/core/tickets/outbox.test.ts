import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import {
	confirmed,
	dropped,
	entryText,
	heldFor,
	nextToSend,
	readOutbox,
	refused,
	sentAgain,
	stale,
	waitingFor,
	withEntry,
	withWaiting,
	type Outbox
} from './outbox';
import type { TicketChangeInput } from './ticket-change';
import { openedTicket } from './ticket-record';

const catalog = buildCatalog([]);
const read = (pin: string, value: number): TicketChangeInput => ({
	verb: 'read-pins',
	stage: 'diagnosis',
	mode: 'diode',
	readings: [{ pin, value }]
});
const entered = (outbox: Outbox, once: string, number = 'K-1', version = 5): Outbox =>
	withEntry(outbox, { number, change: read(once, 0.4), once, enteredAt: outbox.length }, version);
const versions = (outbox: Outbox) => outbox.map(({ once, version }) => [once, version]);
const three = entered(entered(entered([], 'a'), 'b'), 'c');

describe('the outbox', () => {
	it('sends in the order of entry, each with the version that it will meet', () => {
		expect(versions(three)).toEqual([
			['a', 5],
			['b', 6],
			['c', 7]
		]);
		expect(nextToSend(three)?.once).toBe('a');
		// the screen shows version 6 once the first is confirmed: an entry made then stands behind two others
		expect(versions(entered(confirmed(three, 'a'), 'd', 'K-1', 6)).at(-1)).toEqual(['d', 8]);
	});
	it('keeps a refused entry with its reason; what stands behind it goes on with one version less', () => {
		const after = refused(three, 'a', 'no such contact');
		expect(heldFor(after, 'K-1')).toMatchObject([
			{ once: 'a', held: { code: 'refused', reason: 'no such contact' } }
		]);
		expect([nextToSend(after)?.once, nextToSend(after)?.version]).toEqual(['b', 5]);
		expect(versions(entered(after, 'd', 'K-1', 5)).at(-1)).toEqual(['d', 7]);
	});
	it('holds what stands behind a change that met somebody else’s, of that ticket alone', () => {
		const after = stale(entered(three, 'z', 'K-2'), 'a', 9, [{ actor: 'Pia', verb: 'note', at: 1 }]);
		expect(nextToSend(after)?.once).toBe('z');
		const on = sentAgain(after, 'a', 9, 'a2');
		expect(versions(on)).toEqual([
			['a', 9],
			['b', 10],
			['c', 11],
			['z', 5]
		]);
		expect(nextToSend(on)?.once).toBe('a');
	});
	it('a held change that is let go leaves the others to go on', () => {
		const after = dropped(stale(three, 'a', 9, []), 'a');
		expect(versions(after)).toEqual([
			['b', 5],
			['c', 6]
		]);
		expect(versions(dropped(refused(three, 'a', 'x'), 'a'))).toEqual([
			['b', 5],
			['c', 6]
		]);
	});
	it('a refused change that is sent once more goes to the end under a new mark', () => {
		const after = sentAgain(refused(three, 'a', 'x'), 'a', 5, 'a2');
		expect(versions(after)).toEqual([
			['b', 5],
			['c', 6],
			['a2', 7]
		]);
		expect(after.at(-1)?.held).toBeUndefined();
	});
	it('comes back from the browser as it was, without what is no entry', () => {
		const texts = [...three].reverse().map(entryText);
		expect(readOutbox(['{', 'null', '{"once":1}', ...texts])).toEqual(three);
	});
	it('shows what waits on the ticket, at the ends of the lists', () => {
		const ticket = openedTicket('K-1', 0, 'm');
		const shown = withWaiting(ticket, waitingFor(three, 'K-1'), catalog);
		expect(shown.readings.map(({ pin }) => pin)).toEqual(['a', 'b', 'c']);
		expect(ticket.readings).toEqual([]);
		const closing = withEntry([], { number: 'K-1', change: { verb: 'reopen' }, once: 'x', enteredAt: 0 }, 1);
		expect(withWaiting(ticket, closing, catalog)).toEqual(ticket);
	});
	it('with a server that now and then does not answer, refuses, or was overtaken: nothing is lost, nothing twice, in order', () => {
		const step = fc.constantFrom('enter', 'send', 'lose', 'lose answer', 'refuse', 'other', 'decide');
		fc.assert(
			fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
				let outbox: Outbox = [];
				let [server, screen, count] = [1, 1, 0];
				const made: string[] = [];
				const gone: string[] = [];
				const all: string[] = [];
				for (const what of steps) {
					const next = nextToSend(outbox);
					if (what === 'enter') {
						const once = `e${count++}`;
						all.push(once);
						outbox = entered(outbox, once, 'K-1', screen);
					} else if (what === 'other') server += 1;
					else if (what === 'decide') {
						const held = outbox.find((entry) => entry.held);
						if (held?.held?.code === 'stale') outbox = sentAgain(outbox, held.once, server, 'unused');
						else if (held) {
							gone.push(held.once);
							outbox = dropped(outbox, held.once);
						}
					} else if (next && what !== 'lose') {
						if (made.includes(next.once)) {
							outbox = confirmed(outbox, next.once);
							screen = server;
						} else if (next.version !== server) {
							outbox = stale(outbox, next.once, server, []);
							screen = server;
						} else if (what === 'refuse') outbox = refused(outbox, next.once, 'no');
						else {
							made.push(next.once);
							server += 1;
							if (what === 'send') {
								outbox = confirmed(outbox, next.once);
								screen = server;
							}
						}
					}
				}
				const left = outbox.map(({ once }) => once);
				expect(new Set([...made, ...gone, ...left])).toEqual(new Set(all));
				expect(new Set(made).size).toBe(made.length);
				const order = made.map((once) => all.indexOf(once));
				expect(order).toEqual([...order].sort((a, b) => a - b));
			}),
			{ numRuns: 400 }
		);
	});
});
