// Rows a second of a meter log, read and interpreted, beside a plain read of the same text by the CSV library alone.
import Papa from 'papaparse';
import { tracePhases, traceSums } from '../src/lib/core/charging/trace-phases';
import { readLogText } from '../src/lib/csv/read-log';
import { simulateCharge } from '$worlds/simulated-charge';
import { seededRandom } from '../src/lib/core/units/random';

function logText(rows: number): string {
	const charge = {
		amps: 1.4,
		flat: true,
		constantSeconds: 5400,
		tauSeconds: 1500,
		stepSeconds: 11_000 / rows
	};
	const { trace } = simulateCharge(seededRandom(1), charge);
	const comma = (value: number, digits: number) => value.toFixed(digits).replace('.', ',');
	const lines = ['Time [ms];Voltage [V];Current [mA];Power [W]'];
	for (let i = 0; i < rows; i++) {
		const at = Math.min(i, trace.seconds.length - 1);
		const [v, a] = [trace.volts[at] as number, trace.amps[at] as number];
		lines.push(`${Math.round((i * 11e6) / rows)};${comma(v, 3)};${comma(a * 1000, 1)};${comma(v * a, 2)}`);
	}
	return lines.join('\r\n');
}

/** Best of some runs, in seconds: what else the machine does only adds. */
function best(run: () => void, times = 5): number {
	let least = Infinity;
	for (let i = 0; i < times; i++) {
		const since = performance.now();
		run();
		least = Math.min(least, (performance.now() - since) / 1000);
	}
	return least;
}

const rate = (rows: number, seconds: number) =>
	`${Math.round(rows / seconds / 1000).toLocaleString('en')}k rows/s`;
for (const rows of [50_000, 200_000, 500_000]) {
	const text = logText(rows);
	const plain = best(() => Papa.parse<string[]>(text, { delimiter: ';' }));
	const read = best(() => readLogText(text));
	const answer = readLogText(text);
	if (!answer.ok) throw new Error(answer.message);
	const { trace } = answer.log;
	const phases = best(() => {
		tracePhases(trace, 1.4);
		traceSums(trace);
	}, 3);
	console.log(
		`log of ${rows.toLocaleString('en').padStart(7)} rows: CSV library alone ${rate(rows, plain)}; read as a log ${rate(rows, read)} (${(read / plain).toFixed(2)} times its time); ` +
			`phases and sums ${(phases * 1000).toFixed(0)} ms; all ${((read + phases) / plain).toFixed(2)} times`
	);
}
