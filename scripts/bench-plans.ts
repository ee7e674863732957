// Jobs of invented shops carried to their end by the planner as it has learnt, beside the same planner with the exact odds:
// npm run bench:plans [seeds] [sizes] [jobs]
import { learn } from '../src/lib/core/diagnosis/learn/learn';
import { WORLD_KINDS } from '$worlds/engine-world';
import { inventedShop } from '$worlds/invented-shop';
import { knowingPlanner, learnedPlanner, playJob, type Choose } from '$worlds/played-jobs';

const [seeds = '2', sizes = '300,6000', jobs = '200', regrets = '0'] = process.argv.slice(2);
const LOSS_MINOR = 12_000;
const FURTHER = Number(process.env.FURTHER ?? 1);

const lines = [
	'| shop | tickets | over the knowing planner | given up | given up, knowing |',
	'| --- | --: | --: | --: | --: |'
];
const all: Record<string, number[]> = {};
for (const kind of WORLD_KINDS) {
	for (let seed = 1; seed <= Number(seeds); seed++) {
		const counts = sizes.split(',').map(Number);
		const { world, catalog, lessons, held } = inventedShop(
			kind,
			Math.max(...counts),
			4000 + seed,
			Number(jobs) + 60
		);
		const devices = held.filter(({ faults }) => faults.length > 0).slice(0, Number(jobs));
		const playAll = (choose: Choose) =>
			devices.map((device, i) => playJob(world, device, choose, LOSS_MINOR, i + 1));
		const best = playAll(knowingPlanner(world, LOSS_MINOR, 1));
		const sum = (played: typeof best) => played.reduce((total, { costMinor }) => total + costMinor, 0);
		const lost = (played: typeof best) => played.filter(({ gaveUp }) => gaveUp).length;
		for (const size of counts) {
			const own = playAll(learnedPlanner(world, catalog, learn(lessons.slice(0, size)), LOSS_MINOR, FURTHER));
			const ratio = sum(own) / sum(best);
			(all[size] ??= []).push(ratio);
			lines.push(`| ${kind} ${seed} | ${size} | ${ratio.toFixed(3)} | ${lost(own)} | ${lost(best)} |`);
			const dearest = own
				.map((job, i) => ({ i, job, best: best[i] as (typeof best)[number] }))
				.sort((a, b) => b.job.costMinor - b.best.costMinor - (a.job.costMinor - a.best.costMinor))
				.slice(0, Number(regrets));
			for (const { i, job, best } of dearest) {
				const truth = devices[i]?.faults.map((f) => world.faults[f]).join('+');
				console.log(
					`${kind} ${seed} ${size}: device ${i} (${truth}) ${job.costMinor.toFixed(0)} for ${best.costMinor.toFixed(0)}`
				);
				console.log(`   own:  ${job.steps.join(' ')}${job.gaveUp ? ' gave up' : ''}`);
				console.log(`   best: ${best.steps.join(' ')}${best.gaveUp ? ' gave up' : ''}`);
			}
		}
	}
}
for (const [size, ratios] of Object.entries(all)) {
	lines.push(`| mean | ${size} | ${(ratios.reduce((a, b) => a + b, 0) / ratios.length).toFixed(3)} | | |`);
}
console.log(lines.join('\n'));
