import type { Expected } from './expected';
import type { Mode } from './reference';
import type { Verdict } from './verdict';

/** What was read at a contact and how it is judged: what nets and findings are worked out from. */
export interface PinVerdict {
	pin: string;
	net: string;
	mode: Mode;
	value: number | null;
	overload: boolean;
	verdict: Verdict;
	confidence: number;
	expected: Expected | null;
}
