import type { Catalog } from '../catalog/catalog';
import type { CellState, PlugKind } from '../units/seen-codes';
import { packState } from './cell-limits';
import { prechargeWait, type WaitEstimate } from './charge-time';
import { chargeProfile, contractLevel, healthyDraw, isRaised, type ChargeProfile } from './healthy-draw';

/** One look at an inline meter, with how it was taken. */
export interface PlugMoment {
	orientation?: 'a' | 'b' | undefined;
	volts: number;
	amps: number;
	/** since it was plugged in */
	seconds?: number | undefined;
	/** the device was switched on */
	on?: boolean | undefined;
	/** volts that the supply and the device agreed on, where the meter shows it */
	contract?: number | undefined;
}

/** What a reading is judged together with: how the model charges, and its battery. */
export interface PlugContext extends ChargeProfile {
	battery: { chemistry: string; cells: number; capacityMah: number } | null;
	/** pack voltage as last measured; null where it was not */
	batteryVolts: number | null;
}

/** The context of a model's readings, with its battery as it was measured. */
export const plugContext = (
	{ models, connectors }: Pick<Catalog, 'models' | 'connectors'>,
	code: string,
	batteryVolts: number | null
): PlugContext => {
	const model = models.get(code);
	const profile = chargeProfile(model, connectors.get(model?.connector ?? ''));
	return { ...profile, battery: model?.battery ?? null, batteryVolts };
};

export interface PlugVerdict {
	kind: PlugKind;
	/** why, in the trade's words, with the figures that it rests on */
	reason: string;
	/** what it does not exclude */
	open: string;
	/** minutes until the normal current, where it is precharge and the battery is known */
	wait?: WaitEstimate;
}

export const PLUG_WORDS: Record<PlugKind, string> = {
	healthy: 'healthy current',
	full: 'full: little is normal',
	precharge: 'precharge into an empty battery',
	'too-early': 'too early to say',
	slow: 'slow charge',
	trickle: 'a trickle',
	nothing: 'no current',
	'contract-nothing': 'voltage negotiated, no current',
	sagging: 'supply sags',
	pulsing: 'pulsing',
	'one-side': 'one way round only',
	over: 'too much current'
};

/** True where nothing is wrong with what was seen. */
export const isSoundDraw = (kind: PlugKind) => ['healthy', 'full', 'precharge', 'too-early'].includes(kind);

/** Bounds are common practice in the trade, no source. */
export const NOTHING_AMPS = 0.01;
/** An empty battery may begin with less than that: so little is more than a meter's own zero. */
const NOTHING_INTO_EMPTY_AMPS = 0.006;
const TRICKLE_AMPS = 0.15;
const TRICKLE_SHARE = 0.25;
const SLOW_SHARE = 0.6;
const OVER_SHARE = 1.6;
/** What a supply gives beyond its limit before it lets go. */
const OVER_SUPPLY = 1.1;
/** A supply and a device need this long to agree. Common practice, no source. */
export const SETTLED_SECONDS = 3;

/** Amperes as the trade says them: 7 mA, 0.90 A. */
export const amperes = (amps: number) =>
	Math.abs(amps) < 0.0995 && amps !== 0 ? `${(amps * 1000).toFixed(0)} mA` : `${amps.toFixed(2)} A`;
const between = (low: number, high: number) =>
	low === high ? amperes(low) : `${amperes(low)} to ${amperes(high)}`;

/** Judges one reading together with model, battery, contract, time since plugged and whether the device was on. */
export function judgePlugIn(moment: PlugMoment, context: PlugContext): PlugVerdict {
	const amps = Math.abs(moment.amps);
	const level = contractLevel(moment, context);
	const { low, high, named, supply } = healthyDraw(level, context);
	const pack = batteryOf(context);
	const verdict = (kind: PlugKind, reason: string, open: string): PlugVerdict => ({
		kind,
		reason,
		open: moment.on ? `${open} The device was on: what is drawn may feed it and not the battery.` : open
	});
	const empty = pack?.state === 'precharge' || pack?.state === 'watch';
	if (amps < (empty ? NOTHING_INTO_EMPTY_AMPS : NOTHING_AMPS))
		return nothingDrawn(moment, { level, raised: isRaised(level, context) }, pack, verdict);
	const floor = level * 0.95;
	if (moment.volts < floor && amps > 0.1) {
		return verdict(
			'sagging',
			`${moment.volts.toFixed(2)} V under ${amperes(amps)}, below the ${floor.toFixed(2)} V that a supply of ${level} V holds.`,
			'Supply and cable come first: try known good ones. A short that draws what the supply can give looks the same.'
		);
	}
	if (amps < Math.max(TRICKLE_AMPS, TRICKLE_SHARE * low) && amps < SLOW_SHARE * low) {
		return trickle(moment, amps, context, pack, verdict);
	}
	if (amps < SLOW_SHARE * low) {
		if (pack && pack.charge > 0.75) {
			return verdict(
				'healthy',
				`${amperes(amps)} into a battery at ${pack.cellVolts.toFixed(2)} V a cell: charging tapers there.`,
				'Plug in again when it is lower to see its full draw.'
			);
		}
		return verdict(
			'slow',
			`${amperes(amps)} where a healthy one takes ${named ? 'about' : 'at least'} ${amperes(low)} at ${level} V.`,
			'The supply or cable may only allow this much; a half-working path, a high resistance or a hot battery do it too.'
		);
	}
	const maxAmps = named ? OVER_SHARE * high : supply === null ? OVER_SHARE * high : OVER_SUPPLY * supply;
	if (amps > maxAmps) {
		return verdict(
			'over',
			named || supply === null
				? `${amperes(amps)} where a healthy one takes about ${between(low, high)}.`
				: `${amperes(amps)}, more than a supply gives at ${level} V.`,
			'The model’s figure may be of another contract. Feel for heat: a short behind the port draws like this.'
		);
	}
	const limited = !named && supply !== null && amps > 0.9 * supply;
	return verdict(
		'healthy',
		named
			? `${amperes(amps)} of about ${between(low, high)} at ${level} V.`
			: limited
				? `${amperes(amps)} at ${level} V: all that a supply gives there.`
				: `${amperes(amps)} at ${level} V, where no figure of this model is known; at least about ${amperes(low)} is expected.`,
		'A worn battery takes a healthy current too; joints that open when it is moved do not show at rest.'
	);
}

type Pack = ReturnType<typeof packState> | null;
type Word = (kind: PlugKind, reason: string, open: string) => PlugVerdict;

function batteryOf({ battery, batteryVolts }: PlugContext): Pack {
	return battery && batteryVolts !== null ? packState(batteryVolts, battery.cells, battery.chemistry) : null;
}

function nothingDrawn(
	moment: PlugMoment,
	{ level, raised }: { level: number; raised: boolean },
	pack: Pack,
	verdict: Word
): PlugVerdict {
	if (moment.seconds !== undefined && moment.seconds < SETTLED_SECONDS) {
		return verdict(
			'too-early',
			`Nothing after ${moment.seconds} s; supply and device take some seconds to agree.`,
			'Look again after ten seconds.'
		);
	}
	if (pack?.state === 'full') {
		return verdict(
			'full',
			`The battery reads ${pack.cellVolts.toFixed(2)} V a cell: there is nothing to charge.`,
			'Discharge it a little and look again before the charge path is called sound.'
		);
	}
	if (moment.volts < 0.8) {
		return verdict(
			'nothing',
			`${moment.volts.toFixed(2)} V: the supply gives nothing, it sees no device.`,
			'Both configuration lines open, a dead supply or cable; an old plug would put 5 V there all the same.'
		);
	}
	if (raised) {
		return verdict(
			'contract-nothing',
			`${level} V agreed and no current: the port controller lives.`,
			'Check that the battery is connected at all; then the charge path behind the controller and the battery’s own protection.'
		);
	}
	const battery: Partial<Record<CellState, string>> = {
		'cut-off': ' The battery reads nothing: plug it in, or wake it, before the board is condemned.'
	};
	return verdict(
		'nothing',
		`${moment.volts.toFixed(2)} V and no current.`,
		`An open contact, fuse or line, a dead controller or charger, a battery that is not connected.${battery[pack?.state ?? 'in-range'] ?? ''}`
	);
}

function trickle(
	moment: PlugMoment,
	amps: number,
	context: PlugContext,
	pack: Pack,
	verdict: Word
): PlugVerdict {
	if (pack?.state === 'discard') {
		return verdict(
			'trickle',
			`${amperes(amps)} into ${pack.cellVolts.toFixed(2)} V a cell, under ${pack.limits.discard} V: it is not to be charged.`,
			'Unplug it and isolate the battery; the cell maker’s limits and local codes come first. The charge path is not judged by this.'
		);
	}
	if (pack && (pack.state === 'precharge' || pack.state === 'watch')) {
		const wait = context.battery
			? prechargeWait({
					capacityMah: context.battery.capacityMah,
					plugVolts: moment.volts,
					plugAmps: amps,
					packVolts: context.batteryVolts ?? 1
				})
			: undefined;
		const precharge = verdict(
			'precharge',
			`${amperes(amps)} into ${pack.cellVolts.toFixed(2)} V a cell, under ${pack.limits.precharge} V: a small current first is normal.`,
			'A battery that does not climb within the time given is worn, or the charger never leaves precharge.'
		);
		return wait ? { ...precharge, wait } : precharge;
	}
	if (pack?.state === 'full') {
		return verdict(
			'full',
			`${amperes(amps)} into a battery at ${pack.cellVolts.toFixed(2)} V a cell: charging has ended.`,
			'Discharge it a little to see its full draw.'
		);
	}
	if (!pack) {
		return verdict(
			'trickle',
			`${amperes(amps)}: precharge if the battery is empty, wrong if it is not.`,
			'Measure the battery: the current means nothing without it.'
		);
	}
	const reads =
		pack.state === 'cut-off' ? 'reads nothing' : `is at ${pack.cellVolts.toFixed(2)} V a cell, not empty`;
	return verdict(
		'trickle',
		`${amperes(amps)} while the battery ${reads}.`,
		'The charger does not start: its supply, its battery sense, a protection that has cut off, the charger itself.'
	);
}
