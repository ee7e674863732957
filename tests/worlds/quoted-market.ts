import { addAnswer, emptyAnswers, type AskedKind, type LearnedAnswers } from '$lib/core/quoting/acceptance';
import { normalCdf } from '$lib/core/statistics/normal';
import { drawNormal, type Random } from '$lib/core/units/random';

/**
 * Invented markets whose customers' limits are known: a customer accepts what lies below their own limit, a share of what the
 * device is worth. Limits are spread logistically, normally or as the weakest of many, in logarithms or plainly.
 */
export interface Market {
	/** chance that a price of so much of the worth is accepted */
	truth(share: number, kind: AskedKind): number;
	/** value of the next device, hundredths */
	value(): number;
}

export const MARKETS = ['logistic', 'normal', 'weakest', 'plain'] as const;

export function inventMarket(random: Random, form: (typeof MARKETS)[number]): Market {
	const limits: Record<AskedKind, { middle: number; spread: number }> = {
		private: { middle: 0.3 + 0.3 * random(), spread: 0.15 + 0.2 * random() },
		trade: { middle: 0.25 + 0.3 * random(), spread: 0.1 + 0.2 * random() },
		unknown: { middle: 0.45, spread: 0.3 }
	};
	return {
		truth: (share, kind) => {
			const { middle, spread } = limits[kind];
			const z = Math.log(share / middle) / spread;
			if (form === 'logistic') return 1 / (1 + Math.exp(1.6 * z));
			if (form === 'normal') return normalCdf(-z);
			if (form === 'weakest') return Math.exp(-Math.exp(1.2 * z));
			return 1 / (1 + Math.exp((1.6 * (share / middle - 1)) / spread));
		},
		value: () => Math.round(15_000 * Math.exp(0.5 * drawNormal(random)))
	};
}

/** Answers to quotes at prices as a shop asks them: about a markup over costs that differ. */
export function answersOfMarket(random: Random, market: Market, count: number): LearnedAnswers {
	const learned = emptyAnswers();
	for (let i = 0; i < count; i++) {
		const valueMinor = market.value();
		const kind = random() < 0.65 ? 'private' : 'trade';
		const share = 0.4 * Math.exp(0.35 * drawNormal(random));
		const accepted = random() < market.truth(share, kind);
		addAnswer(learned, { priceMinor: Math.round(share * valueMinor), valueMinor, kind, accepted });
	}
	return learned;
}
