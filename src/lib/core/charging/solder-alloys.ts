/**
 * Solder alloys and a heat plan. Melting points: alloy tables such as J-STD-006, from memory, within 2 K unless said.
 * Set points of the station are common practice, no source: start there, watch the joint, never the number.
 */
export interface Alloy {
	code: string;
	label: string;
	solidus: number;
	liquidus: number;
	/** what it is good for, in the trade's words */
	use: string;
	bismuth?: boolean;
	lead?: boolean;
}

/** By melting point, lowest first. */
export const ALLOYS: readonly Alloy[] = [
	{
		code: 'in52sn48',
		label: 'In52Sn48',
		solidus: 118,
		liquidus: 118,
		use: 'removal of heat-shy parts; soft'
	},
	{
		code: 'sn42bi58',
		label: 'Sn42Bi58, low melt',
		solidus: 138,
		liquidus: 138,
		use: 'removal only: brittle in a joint',
		bismuth: true
	},
	{
		// what is in it differs by maker: common practice, no source
		code: 'paste-158',
		label: 'Medium-melt paste, 158 °C',
		solidus: 158,
		liquidus: 158,
		use: 'ports on boards that must stay cool; holds where low melt breaks'
	},
	{
		code: 'sn63pb37',
		label: 'Sn63Pb37',
		solidus: 183,
		liquidus: 183,
		use: 'ports and wires by hand',
		lead: true
	},
	{
		code: 'sn60pb40',
		label: 'Sn60Pb40 wire',
		solidus: 183,
		liquidus: 190,
		use: 'wires by hand: melts early, sets at once',
		lead: true
	},
	{
		code: 'sac305',
		label: 'SAC305, lead-free',
		solidus: 217,
		liquidus: 220,
		use: 'what most boards are made with'
	},
	{ code: 'sn965ag35', label: 'Sn96.5Ag3.5', solidus: 221, liquidus: 221, use: 'lead-free, strong joints' },
	{
		code: 'sn99cu1',
		label: 'Sn99.3Cu0.7, lead-free',
		solidus: 227,
		liquidus: 227,
		use: 'boards and plated wire'
	}
];

/** An alloy as a step of a procedure says it: what it is, when it melts, what it is good for. */
export const alloyWords = (code: string): string => {
	const alloy = ALLOYS.find((item) => item.code === code);
	return alloy ? `${alloy.label}, melts at ${alloy.liquidus} °C: ${alloy.use}` : code;
};

/** Bismuth and lead together may leave a phase that melts near this. Source: Bi-Pb-Sn ternary eutectic, from memory. */
const BISMUTH_LEAD_EUTECTIC = 96;

export type BoardMass = 'thin' | 'usual' | 'heavy';
export type HeatJob = 'lift' | 'place' | 'wire';

export interface HeatPlan {
	/** °C */
	preheat: { low: number; high: number };
	station: { low: number; high: number };
	/** what the joint itself must reach: liquidus and some margin */
	joint: number;
	minutes: { low: number; high: number };
	coolMinutes: { low: number; high: number };
	steps: string[];
	cautions: string[];
}

/** Station set points by job, °C, and what a board's copper adds. Common practice, no source. */
const STATION: Record<HeatJob, { low: number; high: number }> = {
	lift: { low: 320, high: 380 },
	place: { low: 280, high: 330 },
	wire: { low: 330, high: 370 }
};
const MASS: Record<BoardMass, number> = { thin: -20, usual: 0, heavy: 30 };
const MINUTES: Record<HeatJob, { low: number; high: number }> = {
	lift: { low: 3, high: 4 },
	place: { low: 1, high: 2 },
	wire: { low: 0, high: 1 }
};
/** A joint flows well this much above its liquidus. Common practice, no source. */
const SUPERHEAT = 25;

/**
 * Where to start for a job on a board that is soldered with one alloy, with or without another mixed in.
 * Mixing in low melt brings the joint down towards its own melting point; it must be wicked away before placing.
 */
export function heatPlan(job: HeatJob, board: Alloy, added: Alloy | null, mass: BoardMass): HeatPlan {
	const lowMelt = job === 'lift' && added !== null && added.liquidus < board.solidus;
	const melts = lowMelt
		? (added.liquidus + board.liquidus) / 2
		: Math.max(board.liquidus, job === 'lift' ? 0 : (added?.liquidus ?? 0));
	const reduction = lowMelt ? 30 : 0;
	const base = STATION[job];
	const mixed = Boolean((board.bismuth && added?.lead) || (board.lead && added?.bismuth));
	return {
		preheat: { low: 100, high: 150 },
		station: { low: base.low + MASS[mass] - reduction, high: base.high + MASS[mass] - reduction },
		joint: Math.round(melts + SUPERHEAT),
		minutes: MINUTES[job],
		coolMinutes: { low: 10, high: 15 },
		steps: stepsOf(job, lowMelt),
		cautions: [
			'Battery out of the circuit before heat. Extraction on.',
			'Alcohol only on a cold board: its vapour burns from 12 °C on.',
			...(mixed
				? [
						`Bismuth and lead mixed can leave a phase that melts near ${BISMUTH_LEAD_EUTECTIC} °C: wick it all away.`
					]
				: []),
			...(lowMelt ? ['Wick the low melt away before placing: it is brittle in a joint.'] : []),
			'These are starting points of the trade, no limits: the part maker’s profile comes first.'
		]
	};
}

function stepsOf(job: HeatJob, lowMelt: boolean): string[] {
	if (job === 'wire')
		return [
			'Tin the pad and the wire',
			'Touch, let it flow, hold still',
			'Secure with mask and cure about 10 min'
		];
	const common = [
		'Shield plastics',
		'Flux',
		'Preheat from below until warm through',
		'Let the station settle 30 s'
	];
	if (job === 'place')
		return [...common, 'Anchors first, then the contacts', 'Look every 5 to 10 s; let it cool by itself'];
	return [
		...common,
		...(lowMelt ? ['Flow low melt over every joint'] : []),
		'Lift when it falls by itself, never pull: pads are torn here'
	];
}
