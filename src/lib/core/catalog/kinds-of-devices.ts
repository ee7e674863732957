import { z } from 'zod';
import { codeSchema } from '../units/code';
import { CHEMISTRIES, chemistryOf } from '../units/chemistry';
import { amountSchema } from '../units/money';
import { MODES } from '../units/probed-place';
import { shownValue } from '../units/sound-value';
import {
	BATTERY,
	CHARGES,
	choice,
	DRAIN,
	field,
	maybe,
	MONEY,
	NUMBER,
	PAIRS,
	PATH,
	PICTURES,
	PINS,
	POINTS,
	PROSE,
	SCREWS,
	TEXT,
	VOLTS_AMPS,
	WORDS
} from './form-fields';
import { kind } from './kind';
import { PORT_PLACES_OF_MODELS } from './kinds-of-finding';
import { CODE, LABEL, labelSchema } from './record-fields';

/** Devices and the ports that they are charged through. */

const pinNameSchema = z.string().regex(/^[A-Za-z0-9+_.-]{1,16}$/, {
	error: (issue) => `is ${JSON.stringify(issue.input)}; a contact is 1 to 16 letters, digits or + _ . -`
});

const connector = kind({
	schema: z.strictObject({
		record: z.literal('connector'),
		code: codeSchema,
		label: labelSchema,
		pins: z
			.array(
				z.strictObject({
					pin: pinNameSchema,
					net: z.string().min(1).max(32),
					side: z.string().max(16).optional()
				})
			)
			.min(1)
			.max(200)
			.refine((pins) => new Set(pins.map(({ pin }) => pin)).size === pins.length, 'names a contact twice'),
		/** pairs of nets that read alike; without it the names tell (d+ and d-, cc1 and cc2) */
		alike: z
			.array(z.tuple([z.string().min(1).max(32), z.string().min(1).max(32)]))
			.max(100)
			.optional()
	}),
	about:
		'contacts in probing order; those that share a net are joined on the board; `alike`: nets that read alike',
	key: ({ code }) => code,
	form: {
		title: 'Connectors',
		fields: [
			CODE,
			LABEL,
			field('pins', 'Contacts in probing order', PINS, 'one per line: contact net side'),
			maybe(
				'alike',
				'Nets that read alike',
				PAIRS,
				'two per line: d+ d-. Default: by name (cc1 and cc2, d+ and d-)'
			)
		]
	},
	relearns: 'added or changed',
	order: 8
});

/** A point of the charging path that a probe can reach, in order from the supply. */
const pathNode = z.strictObject({
	node: codeSchema,
	label: labelSchema,
	/** what it reads when all is well */
	volts: z.strictObject({ low: z.number().min(0).max(100), high: z.number().min(0).max(100) }),
	/** what lies between the node before and this one */
	through: z.string().min(1).max(64).optional(),
	/** faults that lose the supply between the node before and this one */
	faults: z.array(codeSchema).max(20).optional(),
	minutes: z.number().min(0).max(1000).optional()
});

const voltsAmps = z.strictObject({
	volts: z.number().positive().max(1000),
	amps: z.number().positive().max(1000)
});
const SUPPLIES = ['negotiated', 'fixed'] as const;
const chemistrySchema = z.string().refine((text) => chemistryOf(text) !== null, {
	error: ({ input }) =>
		`is ${shownValue(input)}; limits are known of ${CHEMISTRIES.join(', ')}, in any spelling of case, space and hyphen`
});

/** A screw, plug or shield on the map of a model: in hundredths of its picture from the left and the top. */
const screwPlace = z.strictObject({
	place: codeSchema,
	label: z.string().trim().min(1).max(60),
	length_mm: z.number().positive().max(100).optional(),
	x: z.number().min(0).max(100).optional(),
	y: z.number().min(0).max(100).optional()
});

/** SHA-256 of a picture, in hexadecimal. */
const pictureSchema = z
	.string()
	.regex(/^[0-9a-f]{64}$/, { error: 'is no picture; send it on the page of the board' });
export const BOARD_SIDES = ['front', 'back'] as const;
export type BoardSide = (typeof BOARD_SIDES)[number];
export const sideOf = ({ side }: { side?: BoardSide | undefined }): BoardSide => side ?? 'front';
const GROUNDS = ['never', 'normal', 'one-side'] as const;
const percentOfPicture = z.number().min(0).max(100).optional();

/** A point of the board that a probe is put on, with what it should read. */
const boardPoint = z
	.strictObject({
		code: codeSchema,
		label: labelSchema,
		/** the chip that it belongs to, a free word: "port-chip" */
		chip: z.string().trim().min(1).max(40).optional(),
		net: z.string().min(1).max(32).optional(),
		/** the front without */
		side: z.enum(BOARD_SIDES).optional(),
		/** its way to ground on a sound board: none, it is ground, or it is one of two ends of which one may be */
		ground: z.enum(GROUNDS),
		/** the other end, where one end may be at ground */
		with: codeSchema.optional(),
		expect: z
			.strictObject({
				mode: z.enum(MODES),
				low: z.number().min(-1000).max(1e9),
				high: z.number().min(-1000).max(1e9)
			})
			.refine(({ low, high }) => low <= high, { error: 'is below low', path: ['high'] })
			.optional(),
		/** what a bad reading here speaks for */
		faults: z.array(codeSchema).max(20).optional(),
		/** read once the old port is off */
		when: z.literal('port-off').optional(),
		minutes: z.number().min(0).max(1000).optional(),
		/** where it sits on the picture of its side, in hundredths from the left and the top */
		x: percentOfPicture,
		y: percentOfPicture
	})
	.refine(({ ground, with: other }) => (ground === 'one-side') === (other !== undefined), {
		error: 'names the other end of a point whose ground is one-side, and of no other',
		path: ['with']
	});
export type BoardPoint = z.output<typeof boardPoint>;

/** Points of one board agree: no code twice, and the other end is one of them. */
function pointsAgree({ value, issues }: z.core.ParsePayload<BoardPoint[]>): void {
	const codes = value.map(({ code }) => code);
	const fail = (path: (string | number)[], message: string) =>
		issues.push({ code: 'custom', message, path, input: value });
	value.forEach((point, i) => {
		if (codes.indexOf(point.code) !== i) fail([i, 'code'], `names the point ${point.code} twice`);
		if (point.with !== undefined && (point.with === point.code || !codes.includes(point.with)))
			fail([i, 'with'], `is ${point.with}; name another point of this board`);
	});
}

const model = kind({
	schema: z.strictObject({
		record: z.literal('model'),
		code: codeSchema,
		label: labelSchema,
		family: z.string().max(64).optional(),
		connector: codeSchema.optional(),
		value: amountSchema.optional(),
		battery: z
			.strictObject({
				chemistry: chemistrySchema,
				cells: z.int().min(1).max(100),
				capacity_mah: z.number().positive().max(1_000_000)
			})
			.optional(),
		charge: voltsAmps.optional(),
		/** all that it may take when healthy, where that is more than the usual one */
		charges: z.array(voltsAmps).max(20).optional(),
		/** how supply and device agree: over the contract lines, or at a fixed voltage (barrel, dock) */
		supply: z.enum(SUPPLIES).optional(),
		path: z
			.array(pathNode)
			.max(40)
			.refine((nodes) => new Set(nodes.map(({ node }) => node)).size === nodes.length, 'names a node twice')
			.optional(),
		/** what a healthy one loses while it is used, in per cent of its battery an hour */
		drain: z.strictObject({ percent_per_hour: z.number().positive().max(100) }).optional(),
		/** screws, plugs and shields in the order in which they come out, where they sit, how long they are */
		screws: z
			.array(screwPlace)
			.max(60)
			.refine((all) => new Set(all.map(({ place }) => place)).size === all.length, 'names a place twice')
			.optional(),
		/** the shop's own pictures of the board, by their hashes, that its points sit on */
		pictures: z.strictObject({ front: pictureSchema.optional(), back: pictureSchema.optional() }).optional(),
		/** where the board is read, in probing order */
		points: z.array(boardPoint).max(120).check(pointsAgree).optional(),
		/** minutes to open it, before the first look inside; 8 without */
		open_minutes: z.number().min(0).max(600).optional(),
		/** whether the port sits on the board (without) or on a flex of its own */
		port_on: z.enum(PORT_PLACES_OF_MODELS).optional(),
		/** what the flex carries and the repair may take with it: microphone, sensors, radio */
		carries: z.array(z.string().trim().min(1).max(40)).max(20).optional(),
		/** what hands should know of it before they open it */
		notes: z.string().trim().min(1).max(2000).optional()
	}),
	about:
		'a kind of device: its port, worth, battery, healthy charge, charging path and drain; `screws`: what comes out, in order, with lengths and places (per cent of the map from left and top); `carries`: what the flex carries; `notes`: what hands should know of it; `open_minutes`: to open it (8), counted before the first look inside; `port_on`: `board` (without) or `flex`; `points`: where its board is read, in probing order, with the way to ground of a sound one (`never`, `normal`, `one-side` with the other end), what it should read, what a bad reading speaks for, and its place on the picture of its side (per cent from left and top); `pictures`: those of its board, by their hashes',
	key: ({ code }) => code,
	refers({ connector, points = [] }, need) {
		need.code('connector', 'connector', connector);
		points.forEach(({ faults = [] }, i) =>
			faults.forEach((fault, k) => need.code(`points.${i}.faults.${k}`, 'fault', fault))
		);
	},
	form: {
		title: 'Models',
		fields: [
			CODE,
			LABEL,
			maybe('family', 'Family', TEXT),
			maybe('connector', 'Connector code', TEXT),
			maybe('value', 'Worth when working', MONEY),
			maybe('battery', 'Battery', BATTERY, 'chemistry, cells, mAh: li-ion 1 2600'),
			maybe('charge', 'Healthy charge', VOLTS_AMPS, 'volts, amperes: 5 1.2'),
			maybe('charges', 'All charge profiles', CHARGES, 'volts, amperes, one per line: 9 2'),
			maybe('supply', 'Supply', choice(SUPPLIES), 'negotiated: it agrees a voltage; fixed: barrel, dock'),
			maybe('drain', 'Battery use, % an hour', DRAIN),
			maybe(
				'path',
				'Power path, from the port to the battery',
				PATH,
				'one node a line: code | label | low high volts | what lies before it | fault codes | minutes'
			),
			maybe(
				'points',
				'Points of the board, in probing order',
				POINTS,
				'one per line: code | label | never, normal or one-side OTHER | chip | net | mode low high | fault codes | front or back x y | port-off | minutes'
			),
			maybe(
				'pictures',
				'Pictures of the board',
				PICTURES,
				'placed on the page of the board; their hashes stand here'
			),
			maybe('open_minutes', 'Minutes to open it', NUMBER, 'Default 8.'),
			maybe('port_on', 'Port sits on', choice(PORT_PLACES_OF_MODELS)),
			maybe('notes', 'Notes for the technician', PROSE),
			maybe('carries', 'Functions to test', WORDS, 'separated by commas: microphone, fan, game card'),
			maybe(
				'screws',
				'Screws and plugs, in the order they come out',
				SCREWS,
				'one per line: code | label | length in mm | per cent from left | from top'
			)
		]
	},
	relearns: 'changed',
	order: 9
});

export const KINDS_OF_DEVICES = { connector, model };
