import type { BoardPoint } from '../catalog/kinds-of-devices';

/** Where the demo shop reads its boards: the same points on three models, each where its own layout has them. Invented. */
interface Sketch extends Omit<BoardPoint, 'x' | 'y'> {
	at: readonly [x: number, y: number];
}

/** Both ends of a capacitor, one of which is at ground on a sound board. */
const capacitor = (
	code: string,
	label: string,
	chip: string,
	[x, y]: readonly [number, number],
	more: Partial<BoardPoint> = {}
): Sketch[] => [
	{
		code: `${code}a`,
		label: `${label}, left end`,
		chip,
		ground: 'one-side',
		with: `${code}b`,
		at: [x, y],
		...more
	},
	{
		code: `${code}b`,
		label: `${label}, right end`,
		chip,
		ground: 'one-side',
		with: `${code}a`,
		at: [x + 12, y],
		...more
	}
];

const SKETCH: readonly Sketch[] = [
	{
		code: 'vbus-in',
		label: 'Supply line behind the port',
		net: 'vbus',
		ground: 'never',
		when: 'port-off',
		expect: { mode: 'diode', low: 0.4, high: 0.62 },
		at: [16, 82]
	},
	{
		code: 'fuse-out',
		label: 'Behind the fuse',
		net: 'vbus',
		ground: 'never',
		expect: { mode: 'diode', low: 0.4, high: 0.62 },
		faults: ['input-fuse', 'shorted-capacitor'],
		at: [30, 70]
	},
	...capacitor('c12', 'Capacitor by the port chip', 'port-chip', [14, 52]),
	{
		code: 'cc-1',
		label: 'Contract line at the port chip',
		chip: 'port-chip',
		net: 'cc1',
		ground: 'never',
		at: [14, 38]
	},
	{
		code: 'filter',
		label: 'Behind the line filter',
		net: 'd+',
		ground: 'never',
		faults: ['line-filter'],
		at: [36, 88]
	},
	...capacitor('c40', 'Capacitor by the charge chip', 'charge-chip', [54, 40]),
	{
		code: 'vsys',
		label: 'System line at the charge chip',
		chip: 'charge-chip',
		net: 'vsys',
		ground: 'never',
		at: [56, 24]
	},
	{
		code: 'coil',
		label: 'Coil, far end',
		net: 'vsys',
		ground: 'never',
		faults: ['coil-open', 'charge-controller'],
		at: [72, 18]
	},
	{
		code: 'bat',
		label: 'Battery plug, plus',
		net: 'vbat',
		ground: 'never',
		expect: { mode: 'diode', low: 0.35, high: 0.7 },
		at: [88, 52]
	},
	{ code: 'shield', label: 'Shield clip', ground: 'normal', at: [88, 84] }
];

const ON_THE_BACK: readonly Sketch[] = [
	...capacitor('c77', 'Capacitor by the display chip', 'display-chip', [34, 44], { side: 'back' }),
	{
		code: 'vdisp',
		label: 'Display supply',
		chip: 'display-chip',
		net: 'vdisp',
		side: 'back',
		ground: 'never',
		at: [62, 44]
	}
];

/** @param turn the board is laid out the other way round */
function placed(sketches: readonly Sketch[], turn: boolean): BoardPoint[] {
	return sketches.map(({ at: [x, y], ...point }) => ({
		side: 'front',
		...point,
		x: turn ? 100 - x : x,
		y: turn ? 100 - y : y
	}));
}

export const DEMO_POINTS: Readonly<Record<string, BoardPoint[]>> = {
	'pelagic-40': placed(SKETCH, false),
	'fathom-count': placed([...SKETCH, ...ON_THE_BACK], true),
	'gannet-c': placed([...SKETCH, ...ON_THE_BACK], false)
};
