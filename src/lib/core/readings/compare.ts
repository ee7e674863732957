import type { Connector } from '../catalog/catalog';
import { facingPin } from '../catalog/standard-connectors';
import type { Mode, ReferenceRecord } from './reference';
import {
	expectedReading,
	judgeReading,
	SHORT_BELOW,
	type Expected,
	type Shown,
	type Verdict
} from './verdict';

export interface TakenReading extends Shown {
	pin: string;
	mode: Mode;
}

export interface PinVerdict {
	pin: string;
	net: string;
	mode: Mode;
	value: number | null;
	overload: boolean;
	verdict: Verdict;
	confidence: number;
	expected: Expected | null;
}

export interface NetVerdict {
	net: string;
	verdict: Verdict;
	/** the net's contacts read alike */
	agree: boolean;
	dissenting: string[];
}

export interface Finding {
	kind: 'net-disagreement' | 'ground-missing';
	pins: string[];
	text: string;
}

export interface Comparison {
	pins: PinVerdict[];
	nets: NetVerdict[];
	findings: Finding[];
}

/** Two contacts of one net read alike within this; common practice, no source. */
const NET_TOLERANCE: Record<Mode, number> = { diode: 0.03, ohms: 5, volts: 0.1 };

/**
 * Judges readings contact by contact and net by net. A contact read twice counts with its latest reading.
 * @param connector contacts and their nets; readings of contacts that it lacks are left out
 * @param references known-good readings of the model, any contact and mode
 */
export function compareReadings(
	connector: Connector,
	readings: readonly TakenReading[],
	references: readonly ReferenceRecord[]
): Comparison {
	const latest = new Map(readings.map((reading) => [reading.pin, reading]));
	const byContact = groupReferences(references);
	const pins = connector.pins.flatMap(({ pin, net }): PinVerdict[] => {
		const reading = latest.get(pin);
		if (!reading) return [];
		const expected = expectedReading(byContact.get(`${pin} ${reading.mode}`) ?? []);
		return [
			{
				pin,
				net,
				mode: reading.mode,
				value: reading.value ?? null,
				overload: reading.overload ?? false,
				...judgeReading(reading, reading.mode, net, expected),
				expected
			}
		];
	});
	const nets = judgeNets(pins);
	return { pins, nets, findings: findFindings(pins, nets) };
}

function groupReferences(references: readonly ReferenceRecord[]): Map<string, ReferenceRecord[]> {
	const groups = new Map<string, ReferenceRecord[]>();
	for (const reference of references) {
		const key = `${reference.pin} ${reference.mode}`;
		const group = groups.get(key);
		if (group) group.push(reference);
		else groups.set(key, [reference]);
	}
	return groups;
}

/** True where two readings of one net could come from sound joints to the same copper. */
export function readAlike(a: Shown, b: Shown, mode: Mode): boolean {
	if (a.overload || b.overload) return Boolean(a.overload) === Boolean(b.overload);
	return Math.abs((a.value ?? 0) - (b.value ?? 0)) <= NET_TOLERANCE[mode];
}

const SEVERITY: Verdict[] = ['no-reference', 'agrees', 'high', 'low', 'open', 'short'];

function judgeNets(pins: readonly PinVerdict[]): NetVerdict[] {
	const names = [...new Set(pins.map(({ net }) => net))];
	return names.map((net) => {
		const members = pins.filter((pin) => pin.net === net);
		const dissenting = dissenters(members);
		const worst = members.reduce<Verdict>(
			(worst, { verdict }) => (SEVERITY.indexOf(verdict) > SEVERITY.indexOf(worst) ? verdict : worst),
			'no-reference'
		);
		return { net, verdict: worst, agree: dissenting.length === 0, dissenting };
	});
}

/**
 * Contacts that do not read like most of their net. An overload beside values dissents whatever the
 * count: an open joint raises a reading, nothing lowers it to what the copper would give.
 */
function dissenters(members: readonly PinVerdict[]): string[] {
	const shown = (pin: PinVerdict): Shown => ({
		value: pin.value ?? undefined,
		overload: pin.overload
	});
	const friends = (pin: PinVerdict) =>
		members.filter((other) => other.mode === pin.mode && readAlike(shown(pin), shown(other), pin.mode))
			.length;
	const anyValue = members.some(({ overload }) => !overload);
	const most = Math.max(0, ...members.map(friends));
	const split = members.some((pin) => friends(pin) < members.length);
	if (!split) return [];
	return members.filter((pin) => (pin.overload ? anyValue : friends(pin) < most)).map(({ pin }) => pin);
}

function findFindings(pins: readonly PinVerdict[], nets: readonly NetVerdict[]): Finding[] {
	const findings: Finding[] = [];
	for (const { net, dissenting } of nets) {
		if (dissenting.length === 0) continue;
		const facing = dissenting.map((pin) => facingPin(pin)).filter((pin) => pin !== null);
		findings.push({
			kind: 'net-disagreement',
			pins: dissenting,
			text:
				`${dissenting.join(', ')} and the rest of ${net} read apart, though the board joins them: ` +
				`look for an open joint at ${dissenting.join(', ')}` +
				(facing.length > 0 ? ` (faces ${facing.join(', ')})` : '')
		});
	}
	const lost = pins.filter(
		({ net, mode, value, overload }) =>
			net === 'gnd' && mode !== 'volts' && (overload || Math.abs(value ?? 0) >= SHORT_BELOW[mode])
	);
	if (lost.length > 0) {
		const names = lost.map(({ pin }) => pin);
		findings.push({
			kind: 'ground-missing',
			pins: names,
			text: `${names.join(', ')} should read ground and does not: check the probe first, then the joint`
		});
	}
	return findings;
}
