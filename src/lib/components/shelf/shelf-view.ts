import type { ActionData, PageData } from '../../../routes/(app)/shelf/$types';

export type ChosenPart = NonNullable<PageData['chosen']>;
export type ListedPart = PageData['parts'][number];
export type OpenOrder = PageData['orders'][number];
export type Proposal = PageData['proposals'][number];
/** What a form of the page answered; every form of it has the same shape. */
export type FormState =
	| (NonNullable<ActionData> & {
			form: string;
			done?: string;
			problems?: Record<string, string>;
			kept?: Record<string, string>;
	  })
	| null;
