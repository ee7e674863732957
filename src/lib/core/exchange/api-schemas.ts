import { z } from 'zod';
import { codeSchema, ticketNumberSchema } from '../units/code';
import { moment, money } from '../units/codec';
import { CELL_STATES, PLUG_KINDS, STEP_CAUTION_CODES, SUPPLY_VERDICTS } from '../units/seen-codes';
import { SOAK_VERDICTS } from '../charging/soak';
import { PHASE_KINDS } from '../charging/trace-phases';
import { FINDING_KINDS } from '../readings/port-findings';
import { MODES } from '../units/probed-place';
import { VERDICTS } from '../readings/verdict';
import { customerRecord, measuredLists, ticketFields } from '../tickets/ticket-record';

const chance = z.number().min(0).max(1);
const interval = z.object({ value: z.number(), low: z.number(), high: z.number() });

/** Evidence as in a ticket; only the model is required. */
export const oddsBody = z.strictObject({
	model: codeSchema,
	signs: ticketFields.signs,
	customer: ticketFields.customer,
	opinions: ticketFields.opinions,
	observations: ticketFields.observations,
	...measuredLists,
	attempts: ticketFields.attempts,
	matters: ticketFields.matters,
	worth: ticketFields.worth,
	earlier: z
		.array(
			z.strictObject({
				operation: codeSchema,
				days: z.number().min(0).max(36_500).optional(),
				resolved: z.boolean().default(true)
			})
		)
		.max(50)
		.optional()
		.meta({ description: 'what this shop did on this device before, `days` ago, the latest last' }),
	comeback_of: ticketNumberSchema.optional().meta({
		description: 'the ticket that it comes back from: `earlier` is read from it; at most one of the two'
	}),
	as_of: moment.optional()
});
/** What may not be said twice. */
const EARLIER_ONCE = {
	error: 'cannot stand beside earlier: what was done is read from the ticket; leave one of the two out',
	path: ['comeback_of']
};
const saidOnce = ({ earlier, comeback_of }: { earlier?: unknown; comeback_of?: unknown }) =>
	earlier === undefined || comeback_of === undefined;

export const oddsAsked = oddsBody
	.extend({
		measures: z.boolean().default(false).meta({
			description: 'measurements are steps of `next` too: look, plug-in, battery, read-pins, path, points'
		}),
		give_up_cost: money.optional().meta({
			description:
				'what giving up loses: then plain arithmetic ranks the steps; without it, what the likeliest repair would bring, and more where its data matters'
		})
	})
	.refine(saidOnce, EARLIER_ONCE);

export const quoteBody = oddsBody
	.extend({
		customer: z
			.strictObject({ name: customerRecord.shape.name.optional(), kind: customerRecord.shape.kind })
			.optional()
			.meta({ description: 'who is asked: the kind is enough' }),
		faults: z.array(codeSchema).max(20).optional(),
		price: money.optional(),
		technician: codeSchema.optional()
	})
	.refine(saidOnce, EARLIER_ONCE);

export const oddsAnswer = z.object({
	learned_from: z.number(),
	learned_from_model: z.number().meta({ description: 'closed tickets of this model' }),
	faults: z.array(
		z.object({
			code: z.string(),
			label: z.string(),
			probability: chance,
			low: chance.meta({ description: '80 % interval, from how few tickets the beliefs rest on' }),
			high: chance,
			from: z.number().meta({ description: 'closed tickets with this fault' }),
			usual: chance.meta({ description: 'on this model, before any evidence' }),
			reasons: z
				.array(z.object({ evidence: z.string(), factor: z.number() }))
				.meta({ description: 'the odds of `usual` times all factors are the odds of `probability`' })
		})
	),
	sets: z.array(z.object({ faults: z.array(z.string()), probability: chance })),
	none: chance,
	unseen: chance.meta({
		description: 'prior chance of sets of three that were not weighed; 0 in a catalog of up to 20 faults'
	}),
	next: z.array(
		z.object({
			kind: z.enum(['test', 'operation', 'measure', 'prove', 'give-up']).meta({
				description:
					'`measure` only where it was asked for; `give-up` is first where no repair is expected to bring more than it costs, or with `give_up_cost` where nothing is expected to cost less; once the fault is fixed, `prove` alone'
			}),
			code: z.string(),
			expected_cost: z.number().optional().meta({ description: 'manager tokens only' }),
			expected_minutes: z.number(),
			why: z.string(),
			cautions: z
				.array(z.object({ code: z.enum(STEP_CAUTION_CODES), text: z.string() }))
				.optional()
				.meta({ description: 'what is to be heeded at this step, where there is anything' })
		})
	)
});

const spread = z.object({ p10: z.number(), p50: z.number(), p90: z.number(), mean: z.number() });

const quoteOption = z.object({
	operations: z.array(z.string()),
	label: z.string(),
	price: z.number().nullable(),
	floor: z.number().nullable().optional(),
	chance_fixed: chance,
	comeback_chance: chance,
	minutes: spread,
	cost: spread.optional(),
	expected_profit: z.number().nullable().optional(),
	chance_of_loss: chance.nullable().optional(),
	chance_accepted: chance.nullable()
});

/** Costs and profit are for manager tokens only; others get the answer without them. */
export const quoteAnswer = z.object({
	minutes: spread,
	cost: spread.optional(),
	chance_fixed: chance,
	comeback_chance: chance,
	floor: z.number().nullable().optional().meta({ description: 'null where nothing is expected to fix it' }),
	price: z.number().nullable().meta({
		description:
			'null where none can be named, and `reasons` says why; asked, else the one with the greatest expected profit between floor and ceiling and within `range`; the usual one where too few quotes were answered'
	}),
	usual_price: z.number().nullable().meta({ description: 'what the shop’s usual markup would give' }),
	range: z.object({ low: z.number(), high: z.number(), from: z.number() }).nullable().meta({
		description:
			'what was asked for like jobs, 5th to 95th percentile of price over value, widened by a tenth, `from` answered quotes: `price` is looked for within it; null with under 20'
	}),
	ceiling: z.number().nullable().meta({ description: 'null where the model has no value' }),
	expected_profit: z.number().optional().meta({ description: 'with the chance that the price is accepted' }),
	chance_of_loss: chance.optional(),
	chance_accepted: chance
		.nullable()
		.meta({ description: 'learnt from answered quotes; null where too few were answered' }),
	from: z.number().meta({ description: 'past jobs behind the minutes' }),
	from_walks: z.number().meta({
		description:
			'closed jobs with such faults whose way to the repair was drawn from; 0 where the faults are known'
	}),
	options: z.array(quoteOption).meta({
		description:
			'ways to do the job, best first, with `diagnose-first` and `decline` where they are what pays'
	}),
	verdict: z.enum(['quote', 'diagnose-first', 'not-worth-it']),
	reasons: z.array(z.string())
});

export const shelfAsked = z.object({
	as_of: moment.optional(),
	service: z.coerce.number().min(0.5).max(0.9999).default(0.95)
});

/** Quantities for every role; value and costs for manager tokens only. */
export const shelfAnswer = z.object({
	as_of: z.string(),
	service: z.number(),
	parts: z.array(
		z.object({
			sku: z.string(),
			on_hand: z.number(),
			reserved: z.number().meta({ description: 'what open tickets with an accepted price still need' }),
			on_order: z.number(),
			short: z.number().meta({ description: 'pieces that were used without being on the shelf' }),
			value: z.number().optional(),
			per_week: z.object({ mean: z.number(), low: z.number(), high: z.number(), from_weeks: z.number() }),
			lead_days: z.object({ mean: z.number(), from: z.number() }),
			reorder_at: z.number().nullable().meta({ description: 'null where it was never used' }),
			order_quantity: z.number(),
			fill: z.number().nullable(),
			lots: z.array(z.object({ lot: z.string(), on_hand: z.number(), unit_cost: z.number().optional() }))
		})
	)
});

export const COMEBACKS_BY = [
	'shop',
	'operation',
	'part',
	'lot',
	'source',
	'technician',
	'model',
	'method',
	'supplier',
	'month'
] as const;
export const comebacksAsked = z.object({
	by: z.enum(COMEBACKS_BY),
	days: z.coerce.number().positive().max(36_500).default(90),
	as_of: moment.optional()
});
const orNothing = z.number().nullable();
export const comebacksAnswer = z.object({
	by: z.enum(COMEBACKS_BY),
	days: z.number(),
	as_of: z.string(),
	jobs: z.number().meta({ description: 'closed as fixed before the moment' }),
	comebacks: z.number().meta({ description: 'of them, those that came back within the days' }),
	rows: z.array(
		z.object({
			key: z.string(),
			label: z.string(),
			jobs: z.number(),
			comebacks: z.number(),
			rate: z.number().meta({ description: 'Kaplan-Meier chance of having come back within the days' }),
			low: orNothing.meta({
				description: '95 %, Greenwood on the log(-log) scale; null where nothing can be said'
			}),
			high: orNothing,
			fair: z
				.object({ ratio: z.number(), low: z.number(), high: z.number(), chance_worse: z.number() })
				.nullable()
				.meta({
					description:
						'hazard over what the shop would have had with the same jobs, after what other factors explain; 80 %; null by supplier and month'
				}),
			alarm: z.object({ at: z.string(), ticket: z.string() }).nullable().meta({
				description:
					'of operations, lots, technicians and procedures: a run of comebacks that is too long for chance'
			})
		})
	)
});

export const importAnswer = z.object({
	accepted: z.record(z.string(), z.number()),
	rejected: z.array(z.object({ line: z.number(), path: z.string(), message: z.string() }))
});

export const problemAnswer = z.object({
	type: z.string(),
	title: z.string(),
	status: z.number(),
	detail: z.string(),
	errors: z.array(z.object({ line: z.number().optional(), path: z.string(), message: z.string() })).optional()
});

/** Readings as in a ticket; the stage may be left out, since nothing is kept. */
export const compareBody = z
	.strictObject({
		model: codeSchema.optional(),
		connector: codeSchema.optional(),
		readings: z
			.array(
				z
					.strictObject({
						pin: z.string().min(1).max(16),
						mode: z.enum(MODES).default('diode'),
						value: z.number().min(-1000).max(1e9).optional(),
						overload: z.boolean().optional(),
						stage: z.string().max(16).optional(),
						meter: z.string().max(64).optional(),
						board: z.string().max(64).optional(),
						at: z.string().max(40).optional(),
						by: z.string().max(64).optional()
					})
					.refine(({ value, overload }) => (value === undefined) === (overload === true), {
						error: 'needs either a value or "overload": true',
						path: ['value']
					})
			)
			.max(5000)
	})
	.refine(({ model, connector }) => model !== undefined || connector !== undefined, {
		error: 'is missing; name a model, or a connector',
		path: ['model']
	});

/** What was measured at the plug, as in a ticket. */
export const judgeBody = z.strictObject({
	model: codeSchema,
	meter: ticketFields.meter,
	battery: ticketFields.battery,
	supply: ticketFields.supply,
	soak: ticketFields.soak
});

const plugVerdict = z.object({ kind: z.enum(PLUG_KINDS), text: z.string(), open: z.string() });

export const judgeAnswer = z.object({
	looks: z.array(
		plugVerdict.extend({
			index: z.number(),
			wait: z
				.object({ low: z.number(), usual: z.number(), high: z.number() })
				.optional()
				.meta({ description: 'minutes until the normal current' })
		})
	),
	together: z.array(plugVerdict.extend({ kind: z.enum([...PLUG_KINDS, 'both-sides']) })),
	supply: z
		.array(
			z.object({
				index: z.number(),
				kind: z.enum(SUPPLY_VERDICTS),
				good: z.boolean().nullable().meta({ description: 'null where it says nothing by itself' }),
				text: z.string()
			})
		)
		.optional()
		.meta({
			description: 'looks through a bench supply; `together` has `both-sides` where each side jumps or climbs'
		}),
	battery: z
		.object({ state: z.enum(CELL_STATES), volts_per_cell: z.number(), text: z.string() })
		.nullable()
		.meta({ description: 'as last measured' }),
	cautions: z.array(z.object({ code: z.enum(['do-not-charge', 'supervise']), text: z.string() })),
	soak: z
		.object({ verdict: z.enum(SOAK_VERDICTS), per_hour: interval.nullable() })
		.nullable()
		.meta({ description: 'null without looks; per cent of the battery an hour' })
});

const verdict = z.enum(VERDICTS);

export const compareAnswer = z.object({
	pins: z.array(
		z.object({
			pin: z.string(),
			net: z.string(),
			mode: z.enum(MODES),
			value: z.number().nullable(),
			overload: z.boolean(),
			verdict,
			confidence: chance,
			expected: z
				.object({
					centre: z.number(),
					low: z.number(),
					high: z.number(),
					overload: z.boolean(),
					from: z.number().meta({ description: 'known-good boards behind it' }),
					grade: z.enum(['verified', 'provisional']),
					sisters: z.number().meta({ description: 'sister models that steadied it' }),
					corrected: z
						.array(z.object({ meter: z.string(), factor: z.number(), contacts: z.number() }))
						.optional()
						.meta({ description: 'meters whose readings were brought to this one’s' }),
					uncorrected: z.array(z.string()).optional()
				})
				.nullable()
		})
	),
	nets: z.array(z.object({ net: z.string(), verdict, agree: z.boolean(), dissenting: z.array(z.string()) })),
	findings: z.array(z.object({ kind: z.enum(FINDING_KINDS), pins: z.array(z.string()), text: z.string() }))
});

export const traceAnswer = z.object({
	columns: z.object({ time: z.string().nullable(), volts: z.string(), amps: z.string() }),
	assumed: z.array(z.string()).meta({ description: 'what the log does not say and was taken for granted' }),
	rows: z.object({
		read: z.number(),
		rejected: z.array(z.object({ line: z.number(), message: z.string() })),
		rejected_count: z.number()
	}),
	phases: z.array(
		z.object({
			kind: z.enum(PHASE_KINDS),
			from_seconds: z.number(),
			to_seconds: z.number(),
			volts: z.number().meta({ description: 'median' }),
			amps: z.number().meta({ description: 'median' })
		})
	),
	charge_mah: z.number(),
	energy_mwh: z.number(),
	gaps: z.array(z.object({ from_seconds: z.number(), to_seconds: z.number() })),
	path_ohms: z
		.object({ ohms: z.number(), low: z.number(), high: z.number(), from: z.number() })
		.nullable()
		.meta({
			description: 'resistance of supply and cable, with its 95 % interval; null where it cannot be told'
		})
});
