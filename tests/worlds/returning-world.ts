import {
	RETURN_KINDS,
	type FollowedJob,
	type ReturnKind,
	type ReturnTicket
} from '$lib/core/returns/followed-jobs';
import { DAY_MS, type Instant } from '$lib/core/units/instant';
import { drawIndex, drawNormal, drawOne, type Random } from '$lib/core/units/random';
import { returnTicket } from './one-return';

/**
 * Invented shops whose comebacks have a known law: every level of a kind has an effect of its own on the hazard, good technicians are
 * given the hard models, each operation has its parts, each part one lot after the other. What is fair, and what an alarm should find,
 * is held against that law.
 */
export interface ReturningWorld {
	tickets: ReturnTicket[];
	/** when the last ticket was watched until */
	asOf: Instant;
	/** logarithms of what each level does to the hazard; kinds without a level of their own are empty */
	effects: Record<ReturnKind, Map<string, number>>;
	/** the lot that is worse than the others from its first use on, where there is one */
	bad: string | null;
}

export interface ReturningLaw {
	jobs: number;
	days: number;
	technicians: number;
	models: number;
	operations: number;
	/** standard deviations of the effects in logarithms; kinds that are not named do nothing */
	spread: Partial<Record<ReturnKind, number>>;
	/** chance of coming back ever of a job whose effects are all nothing, as a cumulative hazard */
	rate: number;
	/** mean days until a device that comes back does */
	meanDays: number;
	/** uses until a part's lot is used up */
	lotUses: number;
	/** how strongly hard models are given to good technicians; 0 by chance */
	sorted: number;
	/** chance that a second operation is done in the same job */
	second: number;
	/** a lot that begins in the middle of the time is so many times as bad */
	badTimes?: number;
}

const WATCHED_ON_DAYS = 60;

export function inventReturningWorld(random: Random, law: ReturningLaw): ReturningWorld {
	const levels = (kind: ReturnKind, count: number) => {
		const spread = law.spread[kind] ?? 0;
		return new Map(Array.from({ length: count }, (_, i) => [`${kind}-${i}`, spread * drawNormal(random)]));
	};
	const effects = Object.fromEntries(RETURN_KINDS.map((kind) => [kind, new Map()])) as unknown as Record<
		ReturnKind,
		Map<string, number>
	>;
	effects.technician = levels('technician', law.technicians);
	effects.model = levels('model', law.models);
	effects.operation = levels('operation', law.operations);
	effects.source = levels('source', 3);
	effects.method = levels('method', Math.ceil(law.operations / 2));
	const [technicians, models, operations] = [
		[...effects.technician],
		[...effects.model],
		[...effects.operation]
	];
	// some models and operations are met far more often than others, as in any shop
	const share = (count: number) => Array.from({ length: count }, () => Math.exp(0.7 * drawNormal(random)));
	const [modelShares, operationShares, pace] = [
		share(models.length),
		share(operations.length),
		share(technicians.length)
	];
	const partsOf = operations.map((_, i) =>
		i % 4 === 3 ? [] : i % 4 === 2 ? [`part-${i}-a`, `part-${i}-b`] : [`part-${i}-a`]
	);
	for (const part of partsOf.flat()) effects.part.set(part, (law.spread.part ?? 0) * drawNormal(random));
	const stock = new Map<string, { lot: string; source: string; left: number; number: number }>();
	const tickets: ReturnTicket[] = [];
	let bad: string | null = null;
	for (let i = 0; i < law.jobs; i++) {
		const closedAt = Math.round(((i + random()) * law.days * DAY_MS) / law.jobs);
		const [model, hard] = models[drawIndex(random, modelShares)] as [string, number];
		const suits = technicians.map(
			([, worse], t) => (pace[t] as number) * Math.exp(-law.sorted * worse * hard)
		);
		const [technician, worse] = technicians[drawIndex(random, suits)] as [string, number];
		const first = drawIndex(random, operationShares);
		const second = random() < law.second ? drawIndex(random, operationShares) : first;
		let hazard = hard + worse;
		const job = {
			operations: [] as string[],
			parts: [] as string[],
			lots: [] as string[],
			methods: [] as string[]
		};
		const sources = new Set<string>();
		for (const at of new Set([first, second])) {
			const [operation, effect] = operations[at] as [string, number];
			job.operations.push(operation);
			hazard += effect;
			if (at % 2 === 0 && random() < 0.7) job.methods.push(`method-${at / 2}`);
			const parts = partsOf[at] as string[];
			if (parts.length === 0) continue;
			const part = drawOne(random, parts);
			let held = stock.get(part);
			if (!held || held.left === 0) {
				const number = (held?.number ?? -1) + 1;
				held = {
					lot: `lot-${part}-${number}`,
					source: `source-${drawIndex(random, [3, 2, 1])}`,
					left: Math.ceil(law.lotUses * (0.5 + random())),
					number
				};
				stock.set(part, held);
				effects.lot.set(held.lot, (law.spread.lot ?? 0) * drawNormal(random));
				if (bad === null && law.badTimes !== undefined && i > law.jobs * 0.5 && number > 0) {
					bad = held.lot;
					effects.lot.set(bad, Math.log(law.badTimes));
				}
			}
			held.left -= 1;
			job.parts.push(part);
			job.lots.push(held.lot);
			sources.add(held.source);
			hazard += (effects.part.get(part) ?? 0) + (effects.lot.get(held.lot) ?? 0);
		}
		for (const method of job.methods) hazard += effects.method.get(method) ?? 0;
		for (const source of sources) hazard += effects.source.get(source) ?? 0;
		const number = `K-${i}`;
		tickets.push(
			returnTicket(number, {
				...job,
				model,
				closedAt,
				openedAt: closedAt - 1,
				technicians: [technician],
				sources: [...sources]
			})
		);
		if (random() < 1 - Math.exp(-law.rate * Math.exp(hazard))) {
			const openedAt = closedAt + Math.round(-law.meanDays * DAY_MS * Math.log(1 - random()));
			tickets.push(returnTicket(`B-${i}`, { openedAt, comebackOf: number, outcome: null, closedAt: null }));
		}
	}
	const asOf = (law.days + WATCHED_ON_DAYS) * DAY_MS;
	return { tickets, asOf, effects, bad };
}

/** What a row truly does beside the shop's mean of its kind, weighted by jobs: what a fair ratio estimates. */
export function trueRatios(
	{ effects }: Pick<ReturningWorld, 'effects'>,
	jobs: readonly FollowedJob[],
	kind: ReturnKind
): Map<string, number> {
	const weight = new Map<string, number>();
	for (const { levels } of jobs)
		for (const level of new Set(levels[kind])) weight.set(level, (weight.get(level) ?? 0) + 1);
	let [sum, all] = [0, 0];
	for (const [level, count] of weight) {
		sum += count * Math.exp(effects[kind].get(level) ?? 0);
		all += count;
	}
	return new Map(
		[...weight.keys()].map((level) => [level, Math.exp(effects[kind].get(level) ?? 0) / (sum / all)])
	);
}
