import type { Connector, Model } from '../catalog/catalog';
import { FIXED_LEVELS } from './supply-contract';

/** Volts and amperes at the plug. */
export interface Draw {
	volts: number;
	amps: number;
}

/** What is known of how a model charges. */
export interface ChargeProfile {
	/** the usual draw of a healthy one; null where the model names nothing */
	healthy: Draw | null;
	/** all else that it may take */
	charges?: readonly Draw[] | undefined;
	/** supply and device agree a voltage; false for a barrel or a dock */
	negotiated?: boolean | undefined;
	/** its supply has one voltage, whatever is plugged in: a barrel, a dock */
	fixed?: boolean | undefined;
	/** closed tickets that it was learnt of; nothing where the catalog names it */
	from?: number | undefined;
}

/** What a healthy one takes at one contract, amperes. */
export interface HealthyDraw {
	low: number;
	high: number;
	/** the model's figures name this contract */
	named: boolean;
	/** the supply gives no more than this at such a contract; null where its limit is not known */
	supply: number | null;
}

/** What a small handheld draws when healthy, where the model names nothing. Common practice, no source. */
const USUAL_HEALTHY: Draw = { volts: 5, amps: 0.5 };
/** A level of older fast charging beside those of Power Delivery. From memory. */
const OLDER_LEVEL = 12;
/** What a supply that negotiates gives at most, amperes: 3, and 5 from 20 V on with a cable that says so (USB Type-C and Power Delivery, from memory). */
const SUPPLY_AMPS = { plain: 3, marked: 5 };
const MARKED_FROM_VOLTS = 20;
/** A level is met within a tenth below (cable and load) and 6 % above. */
const ABOVE = 1.06;
/** The volts of a bus before anything is agreed, and the most that they may be (vSafe5V: USB Power Delivery, from memory). */
const BASE_LEVEL = 5;
const BASE_MOST = 5.5;

const named = ({ healthy, charges = [] }: ChargeProfile): Draw[] => [
	...(healthy ? [healthy] : []),
	...charges
];

/** How a model charges, as the catalog says it: negotiated where nothing is said and its port has two rows. */
export const chargeProfile = (model: Model | undefined, connector: Connector | undefined): ChargeProfile => ({
	healthy: model?.charge ?? null,
	charges: model?.charges ?? [],
	negotiated: model?.supply ? model.supply === 'negotiated' : isTwoRow(connector),
	fixed: model?.supply === 'fixed',
	...(model?.chargesFrom === undefined ? {} : { from: model.chargesFrom })
});

/** A port that is plugged in either way round. */
export const isTwoRow = (connector: Connector | null | undefined): boolean =>
	new Set(connector?.pins.flatMap(({ side }) => side ?? [])).size > 1;

/**
 * The contract that a voltage belongs to: what the meter shows, else the lowest level that it does not exceed, the
 * model's own among them.
 * @example contractLevel({ volts: 4.6 }, profile) // 5
 */
export function contractLevel(
	{ volts, contract }: { volts: number; contract?: number | undefined },
	profile: ChargeProfile
): number {
	if (contract !== undefined) return contract;
	const profileVolts = named(profile).map((draw) => draw.volts);
	const single = profile.fixed || (profile.negotiated === false && profileVolts.length > 0);
	const levels = [...profileVolts, ...(single ? [] : [...FIXED_LEVELS, OLDER_LEVEL])].sort((a, b) => a - b);
	const maxAmps = (level: number) => (level === BASE_LEVEL ? BASE_MOST : level * ABOVE);
	return levels.find((level) => volts <= maxAmps(level)) ?? volts;
}

/** Whether supply and device agreed on more than the bus gives by itself. */
export const isRaised = (level: number, { fixed }: ChargeProfile): boolean => !fixed && level > BASE_LEVEL;

/**
 * What a healthy one takes at a contract. Where the model's figures name it, that; elsewhere no less than the power of its
 * smallest figure, as far as the supply gives it, and no more than the supply gives: a device that asked for more volts may
 * take more power than it does at five.
 * @param level volts agreed
 */
export function healthyDraw(level: number, profile: ChargeProfile): HealthyDraw {
	const draws = named(profile);
	const nearby = draws.filter(({ volts }) => Math.abs(volts - level) <= (ABOVE - 1) * level);
	const supply = profile.negotiated === false ? null : supplyAmps(level, nearby);
	if (nearby.length > 0) {
		const amps = nearby.map((draw) => draw.amps);
		return { low: Math.min(...amps), high: Math.max(...amps), named: true, supply };
	}
	const watts = (draws.length > 0 ? draws : [USUAL_HEALTHY]).map(({ volts, amps }) => volts * amps);
	const equal = (power: number) => Math.min(power / Math.max(level, 1), supply ?? Infinity);
	const low = equal(Math.min(...watts));
	return supply === null
		? { low, high: equal(Math.max(...watts)), named: false, supply }
		: { low: Math.min(low, SUPPLY_AMPS.plain), high: supply, named: false, supply };
}

/** What the supply gives at a level; more where the model is known to take more there. */
function supplyAmps(level: number, draws: readonly Draw[]): number {
	const maxAmps = level >= MARKED_FROM_VOLTS ? SUPPLY_AMPS.marked : SUPPLY_AMPS.plain;
	return Math.max(maxAmps, ...draws.map(({ amps }) => amps));
}
