import type { Catalog } from '../../catalog/catalog';
import { SHOWS } from '../../charging/power-path';
import { NODE_VERDICTS } from '../../units/seen-codes';
import type { Stated } from './answer-model';

/**
 * Where a part sits on a path is known, so little is doubted about a fault that the path names; that one which it does not
 * name leaves it whole is believed less. Choices.
 */
const NAMED_WEIGHT = 60;
const UNNAMED_WEIGHT = 12;

const stated = (side: 'before' | 'behind', weight = NAMED_WEIGHT): Stated => ({
	chances: NODE_VERDICTS.map((verdict) => SHOWS[verdict][side]),
	weight
});

/**
 * What the models' charging paths say of a node before any ticket does: behind the stretch that a fault breaks the supply is
 * lost, before it, and where no stretch names the fault, it is there. Where models differ, as most of them have it.
 * @param question of a node, as in "path:fuse-out"
 * @returns chances of NODE_VERDICTS under a fault, and without any fault
 */
export function pathBeliefs(
	{ models }: Pick<Catalog, 'models'>,
	question: string
): { underFault: (fault: string) => Stated; whole: Stated } {
	const code = question.slice(question.indexOf(':') + 1);
	const paths = [...models.values()].flatMap(({ path = [] }) => {
		const at = path.findIndex(({ node }) => node === code);
		return at < 0 ? [] : [{ path, at }];
	});
	const whole = stated('before', UNNAMED_WEIGHT);
	return {
		whole,
		underFault: (fault) => {
			let [ahead, behind] = [0, 0];
			for (const { path, at } of paths) {
				const breaks = path.findIndex(({ faults = [] }) => faults.includes(fault));
				if (breaks >= 0 && breaks <= at) behind += 1;
				else if (breaks > at) ahead += 1;
			}
			if (ahead + behind === 0) return whole;
			return stated(behind >= ahead ? 'behind' : 'before');
		}
	};
}
