import type { KitPart } from '$lib/core/stock/kit';

/** What an operation's parts are taken from: as the shelf has them, and as the hand at the bench chose. */
export class KitChoice {
	operation = $state('');
	parts = $state.raw<readonly KitPart[]>([]);
	/** place of the choice, by part */
	#chosen = $state<Record<string, number>>({});

	/** Asks for the kit of an operation on a model; without an answer, what the operation takes is taken as ever. */
	async ask(operation: string, model: string, signal: AbortSignal): Promise<void> {
		if (operation !== this.operation) {
			this.operation = operation;
			this.parts = [];
			this.#chosen = {};
		}
		if (!operation) return;
		try {
			const answer = await fetch(`/shelf/kit?${new URLSearchParams({ operation, model })}`, { signal });
			const parts = answer.ok ? ((await answer.json()) as KitPart[]) : [];
			if (!signal.aborted) this.parts = parts;
		} catch {
			// the line is away: what the operation takes is taken from the oldest lots
		}
	}

	placeOf = ({ sku }: KitPart): number => this.#chosen[sku] ?? 0;

	choose({ sku }: KitPart, place: number): void {
		this.#chosen[sku] = place;
	}

	/** The next thing that may be taken, part by part: all choices in turn. */
	another(): void {
		const part = this.parts.find(({ choices }) => choices.length > 1);
		if (part) this.choose(part, (this.placeOf(part) + 1) % part.choices.length);
	}

	/** What is taken, as an attempt names it. */
	get taken(): { sku: string; quantity: number; lot?: string }[] {
		return this.parts.flatMap((part) => {
			const choice = part.choices[this.placeOf(part)];
			if (!choice) return [];
			const { sku, lot } = choice;
			return [{ sku, quantity: part.quantity, ...(lot === null ? {} : { lot }) }];
		});
	}
}
