// Hit and false-alarm rates of the verdicts on simulated devices, into docs/engine.md: npm run verdicts
import { readFileSync, writeFileSync } from 'node:fs';
import { buildCatalog } from '../src/lib/core/catalog/catalog';
import { DEMO_CATALOG } from '../src/lib/core/simulation/demo-catalog';
import { falseAlarmsByBoards, verdictRates, WAYS, type RateOf } from '$worlds/verdict-rates';

const DEVICES = 400;
const catalog = buildCatalog(DEMO_CATALOG);
const share = ({ hits, of, low, high }: RateOf) =>
	`${(hits / of).toFixed(2)} (${low.toFixed(2)}–${high.toFixed(2)})`;
const label = (fault: string | null) =>
	fault ? (catalog.faults.get(fault)?.label ?? fault) : '_sound: false alarms_';
const HEADS = ['pins, known good', 'pins alone', 'plug-in', 'battery', 'path', 'soak', 'any'];

const rates = verdictRates(catalog, { seed: 7, devices: DEVICES, boards: 12 });
const rows = rates.map(
	({ fault, rates, place }) =>
		`| ${[label(fault), ...WAYS.map((way) => share(rates[way])), place ? share(place) : ''].join(' | ')} |`
);
const byBoards = falseAlarmsByBoards(catalog, { seed: 8, devices: DEVICES, boards: [1, 2, 3, 6, 12, 24] });
const small = byBoards.map(
	({ boards, alarms }) =>
		`| ${boards} | ${(alarms.hits / alarms.of).toFixed(4)} (${alarms.low.toFixed(4)}–${alarms.high.toFixed(4)}) |`
);
const text = [
	`Share of ${DEVICES} simulated devices each that a way of measuring calls unsound, with its 95 % Wilson interval; 12 known-good boards a model. “Place”: the path names the right stretch.`,
	'',
	`| fault put in | ${HEADS.join(' | ')} | place |`,
	`| --- |${' --- |'.repeat(HEADS.length + 1)}`,
	...rows,
	'',
	'False alarms of single contacts on sound boards:',
	'',
	'| known-good boards | share of contacts |',
	'| --- | --- |',
	...small
].join('\n');

const file = new URL('../docs/engine.md', import.meta.url);
const page = readFileSync(file, 'utf8');
const [start, end] = ['<!-- verdicts -->', '<!-- /verdicts -->'];
const [from, to] = [page.indexOf(start), page.indexOf(end)];
if (from < 0 || to < 0) throw new Error(`docs/engine.md lacks ${start} … ${end}`);
writeFileSync(file, `${page.slice(0, from + start.length)}\n\n${text}\n\n${page.slice(to)}`);
console.log(text);
