/** Codes in which rooms tell one another what was seen or measured; parts of the published format. */

/** What an inline meter's look shows, judged with model, battery and contract. */
export const PLUG_KINDS = [
	'healthy',
	'full',
	'precharge',
	'too-early',
	'slow',
	'trickle',
	'nothing',
	'contract-nothing',
	'sagging',
	'pulsing',
	'one-side',
	'over'
] as const;
export type PlugKind = (typeof PLUG_KINDS)[number];

/** States of a battery by its volts a cell. */
export const CELL_STATES = [
	'reversed',
	'cut-off',
	'discard',
	'watch',
	'precharge',
	'in-range',
	'full',
	'over'
] as const;
export type CellState = (typeof CELL_STATES)[number];

/** States of a contact, or of another place of a port. */
export const CONTACT_STATES = [
	'straight',
	'bent',
	'folded',
	'touching',
	'missing',
	'burnt',
	'corroded'
] as const;
export type ContactState = (typeof CONTACT_STATES)[number];

/** States of a soldered joint, the better the earlier; `dry`: no solder, or never wetted. */
export const JOINT_STATES = ['firm', 'moves', 'cracked', 'dry', 'bridged'] as const;
export type JointState = (typeof JOINT_STATES)[number];

/** Places of a port that are looked at beside its contacts. */
export const PORT_PLACES = ['tongue', 'shell', 'joints'] as const;

/** What a node of the charging path shows, the better the earlier. */
export const NODE_VERDICTS = ['there', 'high', 'low', 'lost'] as const;
export type NodeVerdict = (typeof NODE_VERDICTS)[number];

/** A port whose contacts stand so may short the supply that is plugged into it. */
export const MAY_SHORT: readonly ContactState[] = ['folded', 'touching', 'missing'];

/** What a bench supply shows while a device is started, the better the earlier. */
export const SUPPLY_VERDICTS = [
	'steady-climb',
	'jump-and-back',
	'hangs',
	'cycles',
	'nothing',
	'short'
] as const;

/** Where a bench supply is put in: at the port, or instead of the battery. */
export const SUPPLY_FEEDS = ['port', 'battery'] as const;
export type SupplyFeed = (typeof SUPPLY_FEEDS)[number];

/** What is to be heeded at a step of a plan. */
export const STEP_CAUTION_CODES = [
	'look-first',
	'may-short',
	'battery-out',
	'live-board',
	'heat-spent',
	'supervise'
] as const;
export type StepCaution = (typeof STEP_CAUTION_CODES)[number];
