import type { CatalogKind } from '$lib/core/catalog/records';

/** How a person writes each field of a catalog record; the schemas of core check what comes of it. */
export interface CatalogField {
	name: string;
	label: string;
	type:
		| 'text'
		| 'number'
		| 'choice'
		| 'codes'
		| 'parts'
		| 'pins'
		| 'pairs'
		| 'pair'
		| 'battery'
		| 'path'
		| 'drain';
	choices?: readonly string[];
	optional?: boolean;
	hint?: string;
}

const code: CatalogField = { name: 'code', label: 'Code', type: 'text', hint: 'stays; a-z 0-9 . _ -' };
const label: CatalogField = { name: 'label', label: 'Label', type: 'text' };
const caution: CatalogField = {
	name: 'caution',
	label: 'Caution shown at the step',
	type: 'text',
	optional: true
};
const minutes: CatalogField = { name: 'minutes', label: 'Minutes, usual', type: 'number' };

export const CATALOG_FORMS: Partial<Record<CatalogKind, { title: string; fields: CatalogField[] }>> = {
	model: {
		title: 'Models',
		fields: [
			code,
			label,
			{ name: 'family', label: 'Family', type: 'text', optional: true },
			{ name: 'connector', label: 'Connector code', type: 'text', optional: true },
			{ name: 'value', label: 'Worth when working', type: 'number', optional: true },
			{
				name: 'battery',
				label: 'Battery',
				type: 'battery',
				optional: true,
				hint: 'chemistry, cells, mAh: li-ion 1 2600'
			},
			{
				name: 'charge',
				label: 'Healthy charge',
				type: 'pair',
				optional: true,
				hint: 'volts, amperes: 5 1.2'
			},
			{ name: 'drain', label: 'Loses in use, % an hour', type: 'drain', optional: true },
			{
				name: 'path',
				label: 'Power path, from the port to the battery',
				type: 'path',
				optional: true,
				hint: 'one node a line: code | label | low high volts | what lies before it | fault codes | minutes'
			}
		]
	},
	technician: {
		title: 'Technicians',
		fields: [
			code,
			{ name: 'name', label: 'Name', type: 'text' },
			{ name: 'skills', label: 'Skills', type: 'codes', optional: true, hint: 'words, separated by spaces' },
			{ name: 'hourly_cost', label: 'Cost an hour', type: 'number', optional: true }
		]
	},
	part: {
		title: 'Parts',
		fields: [
			{ ...code, name: 'sku', label: 'Stock code' },
			label,
			{ name: 'unit_cost', label: 'Unit cost', type: 'number' },
			{
				name: 'source',
				label: 'Source',
				type: 'choice',
				choices: ['new', 'pulled', 'donor', 'aftermarket'],
				optional: true
			}
		]
	},
	fault: {
		title: 'Faults',
		fields: [
			code,
			label,
			{ name: 'group', label: 'Group', type: 'text', optional: true },
			{ name: 'prior', label: 'Expected share of tickets, 0 to 1', type: 'number', optional: true }
		]
	},
	sign: {
		title: 'Signs',
		fields: [
			code,
			label,
			{ name: 'kind', label: 'Kind', type: 'choice', choices: ['symptom', 'history', 'visual'] }
		]
	},
	test: {
		title: 'Checks',
		fields: [
			code,
			label,
			minutes,
			{ name: 'cost', label: 'Cost beside the minutes', type: 'number', optional: true },
			{ name: 'outcomes', label: 'Outcomes', type: 'codes', hint: '2 to 12 codes, separated by spaces' },
			{ name: 'risk', label: 'Risk of harm, 0 to 1', type: 'number', optional: true },
			caution
		]
	},
	operation: {
		title: 'Operations',
		fields: [
			code,
			label,
			minutes,
			{ name: 'skill', label: 'Skill', type: 'text', optional: true },
			{ name: 'fixes', label: 'Fixes', type: 'codes', hint: 'fault codes, separated by spaces' },
			{ name: 'success', label: 'Chance of success, 0 to 1', type: 'number', optional: true },
			{
				name: 'parts',
				label: 'Parts it takes',
				type: 'parts',
				optional: true,
				hint: 'stock code and quantity: port-smd 1'
			},
			caution
		]
	},
	gate: {
		title: 'Gates',
		fields: [
			code,
			label,
			{ name: 'when', label: 'When', type: 'choice', choices: ['before-sealing', 'after-sealing'] }
		]
	},
	connector: {
		title: 'Connectors',
		fields: [
			code,
			label,
			{
				name: 'pins',
				label: 'Contacts in probing order',
				type: 'pins',
				hint: 'one a line: contact net side'
			},
			{
				name: 'alike',
				label: 'Nets that read alike',
				type: 'pairs',
				optional: true,
				hint: 'two a line: d+ d-; left empty, the names tell (cc1 and cc2, d+ and d-)'
			}
		]
	}
};

const amount = (typed: string): number | string => {
	const value = Number(typed.replace(',', '.'));
	return typed.trim() === '' || Number.isNaN(value) ? typed : value;
};
const words = (typed: string) => typed.split(/[\s,;]+/).filter(Boolean);
const lines = (typed: string) =>
	typed
		.split('\n')
		.map((line) => words(line))
		.filter((line) => line.length > 0);

/** What was typed in the form of a kind as a record for its schema; empty optional fields are left out. */
export function recordFromForm(kind: CatalogKind, typed: Record<string, string>): Record<string, unknown> {
	const record: Record<string, unknown> = { record: kind };
	for (const { name, type, optional } of CATALOG_FORMS[kind]?.fields ?? []) {
		const text = (typed[name] ?? '').trim();
		if (text === '' && optional) continue;
		record[name] = valueOf(type, text);
	}
	return record;
}

function valueOf(type: CatalogField['type'], text: string): unknown {
	switch (type) {
		case 'number':
			return amount(text);
		case 'codes':
			return words(text);
		case 'parts':
			return lines(text).map(([sku, quantity = '1']) => ({ sku, quantity: amount(quantity) }));
		case 'pins':
			return lines(text).map(([pin, net, side]) => ({ pin, net, ...(side ? { side } : {}) }));
		case 'pairs':
			return lines(text).map(([first = '', second = '']) => [first, second]);
		case 'drain':
			return { percent_per_hour: amount(text) };
		case 'path':
			return text
				.split('\n')
				.filter((line) => line.trim() !== '')
				.map(pathNode);
		case 'pair': {
			const [volts = '', amps = ''] = words(text);
			return { volts: amount(volts), amps: amount(amps) };
		}
		case 'battery': {
			const [chemistry, cells = '', capacity = ''] = words(text);
			return { chemistry, cells: amount(cells), capacity_mah: amount(capacity) };
		}
		default:
			return text;
	}
}

/** One node of a path, its fields set apart by bars; empty ones at the end are left out. */
function pathNode(line: string): Record<string, unknown> {
	const [node = '', label = '', volts = '', through = '', faults = '', minutes = ''] = line
		.split('|')
		.map((field) => field.trim());
	const [low = '', high = ''] = words(volts);
	return {
		node,
		label,
		volts: { low: amount(low), high: amount(high) },
		...(through ? { through } : {}),
		...(faults ? { faults: words(faults) } : {}),
		...(minutes ? { minutes: amount(minutes) } : {})
	};
}

interface PathLine {
	node: string;
	label: string;
	volts: { low: number; high: number };
	through?: string;
	faults?: string[];
	minutes?: number;
}

const pathText = (nodes: readonly PathLine[]) =>
	nodes
		.map(({ node, label, volts, through = '', faults = [], minutes = '' }) =>
			[node, label, `${volts.low} ${volts.high}`, through, faults.join(' '), minutes]
				.join(' | ')
				.replace(/( \| )+$/, '')
		)
		.join('\n');

/** A record as it stands in the form of its kind: the inverse of `recordFromForm`. */
export function formFromRecord(kind: CatalogKind, record: Record<string, unknown>): Record<string, string> {
	return Object.fromEntries(
		(CATALOG_FORMS[kind]?.fields ?? []).map(({ name, type }) => [
			name,
			type === 'path' ? pathText((record[name] ?? []) as PathLine[]) : textOf(record[name])
		])
	);
}

function textOf(value: unknown): string {
	if (value === undefined || value === null) return '';
	if (!Array.isArray(value))
		return typeof value === 'object' ? Object.values(value).join(' ') : String(value);
	return value
		.map((item) => (typeof item === 'object' ? Object.values(item as object).join(' ') : String(item)))
		.join(typeof value[0] === 'object' ? '\n' : ' ');
}
