import type { GateState } from '../bench/gates';
import type { Connector } from '../catalog/catalog';
import { isTwoRow } from '../charging/healthy-draw';
import { judgeCurrent } from '../charging/judge-current';
import { isSoundDraw, PLUG_WORDS, type PlugContext } from '../charging/judge-plug-in';
import { soakProves } from '../evidence/soak';
import { beforeRepair } from '../units/stage';
import type { Ticket } from './ticket-record';

/** What measurements that were taken say of a gate. */
export interface GateFinding {
	/** the answer that they give; null where they are not enough for one */
	passed: boolean | null;
	words: string;
}

/** What is known of the device beside its ticket. */
export interface Measurable {
	plug: Omit<PlugContext, 'batteryVolts'>;
	connector: Connector | null;
	drainPerHour: number | null;
}

/**
 * The answer that measurements of the repaired device give to a gate, so that nobody answers it against them unseen: those
 * of the stages after a repair, taken since the last work that may have undone it.
 * @returns null where no such measurement was taken, or the gate names none
 */
export function gateFinding(
	{ shownBy, undoneAt }: Pick<GateState, 'shownBy' | 'undoneAt'>,
	ticket: Pick<Ticket, 'meter' | 'battery' | 'continuity' | 'soak'>,
	device: Measurable
): GateFinding | null {
	const since = ({ at }: { at?: number | undefined }) => (at ?? Infinity) >= undoneAt;
	const late = (entry: { stage: string; at?: number | undefined }) =>
		!beforeRepair(entry.stage) && since(entry);
	switch (shownBy) {
		case 'current':
			return byCurrent({ meter: ticket.meter.filter(late), battery: ticket.battery }, device);
		case 'continuity':
			return byContinuity(ticket.continuity.filter(since).at(-1));
		case 'soak':
			return soakProves(ticket.soak.filter(since), device.drainPerHour);
		case null:
			return null;
	}
}

/** Both ways round where the port has two; of each way its latest look. */
function byCurrent(
	measured: Pick<Ticket, 'meter' | 'battery'>,
	{ plug, connector }: Measurable
): GateFinding | null {
	if (measured.meter.length === 0) return null;
	const { looks } = judgeCurrent(plug, measured);
	const bySide = new Map(measured.meter.map(({ orientation }, i) => [orientation ?? 'a', looks[i]]));
	const two = isTwoRow(connector);
	const name = (side: 'a' | 'b') => (two ? `side ${side.toUpperCase()}: ` : '');
	const odd = [...bySide].flatMap(([side, look]) =>
		look && !isSoundDraw(look.kind) ? [`${name(side)}${PLUG_WORDS[look.kind]}`] : []
	);
	if (odd.length > 0) return { passed: false, words: odd.join('; ') };
	const unseen = (two ? (['a', 'b'] as const) : []).filter((side) => !bySide.has(side));
	if (unseen.length > 0)
		return {
			passed: null,
			words: `side ${unseen.map((side) => side.toUpperCase()).join(', ')} not looked at yet`
		};
	const settled = [...bySide.values()].every((look) => look?.kind === 'healthy');
	return settled
		? { passed: true, words: two ? 'healthy current both ways' : 'healthy current' }
		: {
				passed: null,
				words: [...bySide]
					.map(([side, look]) => `${name(side)}${look ? PLUG_WORDS[look.kind] : ''}`)
					.join('; ')
			};
}

function byContinuity(last: Ticket['continuity'][number] | undefined): GateFinding | null {
	if (!last) return null;
	return last.misses.length === 0
		? { passed: true, words: `${last.probes} pairs correct` }
		: { passed: false, words: `wrong at ${last.misses.map((pair) => pair.join('–')).join(', ')}` };
}
