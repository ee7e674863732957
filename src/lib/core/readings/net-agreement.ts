import type { PinVerdict } from './pin-verdict';
import type { Mode } from './reference';
import type { Shown, Verdict } from './verdict';
import { groupBy } from '../units/group-by';

export interface NetVerdict {
	net: string;
	verdict: Verdict;
	/** the net's contacts read alike */
	agree: boolean;
	dissenting: string[];
}

/** Two contacts of one net read alike within this; common practice, no source. */
const NET_TOLERANCE: Record<Mode, number> = { diode: 0.03, ohms: 0, volts: 0.1 };
/** Ohms: alike within 5 ohms or a tenth, whichever is more. Common practice, no source. */
const OHMS_ALIKE = { least: 5, share: 0.1 };

/** True where two readings of one net could come from sound joints to the same copper. */
export function readAlike(a: Shown, b: Shown, mode: Mode): boolean {
	if (a.overload || b.overload) return Boolean(a.overload) === Boolean(b.overload);
	const [x, y] = [a.value ?? 0, b.value ?? 0];
	const tolerance =
		mode === 'ohms'
			? Math.max(OHMS_ALIKE.least, OHMS_ALIKE.share * Math.max(Math.abs(x), Math.abs(y)))
			: NET_TOLERANCE[mode];
	// what a meter shows has three decimals: a hair over the bound from binary fractions is on it
	return Math.abs(x - y) <= tolerance + 1e-9;
}

export const shownBy = ({ value, overload }: PinVerdict): Shown => ({ value: value ?? undefined, overload });

const SEVERITY: Verdict[] = ['no-reference', 'agrees', 'high', 'low', 'open', 'short'];

/** Each net's worst verdict, and who of it reads otherwise than its others in the same mode. */
export function judgeNets(pins: readonly PinVerdict[]): NetVerdict[] {
	return [...groupBy(pins, ({ net }) => net)].map(([net, members]) => {
		const modes = new Set(members.map(({ mode }) => mode));
		const split = [...modes].flatMap((mode) =>
			dissenters(modes.size === 1 ? members : members.filter((pin) => pin.mode === mode))
		);
		const dissenting = [...new Set(split)];
		const verdict = members.reduce<Verdict>(
			(worst, { verdict }) => (SEVERITY.indexOf(verdict) > SEVERITY.indexOf(worst) ? verdict : worst),
			'no-reference'
		);
		return { net, verdict, agree: dissenting.length === 0, dissenting };
	});
}

/**
 * Contacts of one net and mode that do not read like the rest. An overload beside values dissents whatever the
 * count: an open joint raises a reading, nothing lowers it to what the copper would give. Else those that the
 * references call wrong, else the minority, else (one against one) all of them.
 */
function dissenters(members: readonly PinVerdict[]): string[] {
	if (members.length < 2) return [];
	const alike = (a: PinVerdict, b: PinVerdict) => readAlike(shownBy(a), shownBy(b), a.mode);
	if (members.every((a) => members.every((b) => alike(a, b)))) return [];
	const names = (pins: readonly PinVerdict[]) => pins.map(({ pin }) => pin);
	const open = members.filter(({ overload }) => overload);
	const values = members.filter(({ overload }) => !overload);
	const apart = values.some((a) => values.some((b) => !alike(a, b)));
	if (!apart) return names(open);
	const wrong = values.filter(({ verdict }) => verdict !== 'agrees' && verdict !== 'no-reference');
	const judged = values.some(({ verdict }) => verdict === 'agrees');
	if (judged && wrong.length > 0) return names([...open, ...wrong]);
	const friends = (pin: PinVerdict) => values.filter((candidate) => alike(pin, candidate)).length;
	const maxFriends = Math.max(...values.map(friends));
	const outliers = values.filter((pin) => friends(pin) < maxFriends);
	return names([...open, ...(outliers.length > 0 ? outliers : values)]);
}
