import type { CounterVisit } from '$lib/server/tickets/first-job';
import type { TakeIn, TakeInAnswer } from '$lib/server/tickets/take-in';
import { hasLeft } from '../ui/leave';
import { newOnce } from '../ui/once';

const DRAFT = 'tavrek-intake';

interface Fields {
	customer: string;
	kind: 'private' | 'trade';
	phone: string;
	email: string;
	/** how they agreed to hear of it; nothing: by telephone */
	hears: '' | 'mail' | 'text' | 'call' | 'none';
	model: string;
	modelCode: string | null;
	connector: string;
	serial: string;
	reported: string;
	condition: string;
	accessories: string;
	matters: 'device' | 'data' | 'both';
	promised: string;
	passcode: string;
	signs: Record<string, boolean>;
	comebackOf: string | null;
	/** the fault that a trade customer claims */
	claim: string | null;
}

const blank = (): Fields => ({
	customer: '',
	kind: 'private',
	phone: '',
	email: '',
	hears: '',
	model: '',
	modelCode: null,
	connector: '',
	serial: '',
	reported: '',
	condition: '',
	accessories: '',
	matters: 'device',
	promised: '',
	passcode: '',
	signs: {},
	comebackOf: null,
	claim: null
});

/** The intake under way. Kept in the tab until it is taken in, so that a reload loses nothing typed. */
export class Intake {
	fields = $state<Fields>(blank());
	visits = $state.raw<CounterVisit[]>([]);
	problem = $state.raw<{ field: string; message: string } | null>(null);
	sending = $state(false);
	/** numbers of devices of the same customer that were just taken in */
	before = $state.raw<string[]>([]);
	/** of keeping the promise, as it was foretold last */
	promisedChance: number | null = null;
	#once = newOnce();

	restore(): void {
		try {
			const kept = JSON.parse(sessionStorage.getItem(DRAFT) ?? 'null') as {
				fields: Fields;
				once: string;
			} | null;
			if (!kept) return;
			this.fields = { ...blank(), ...kept.fields };
			this.#once = kept.once;
		} catch {
			sessionStorage.removeItem(DRAFT);
		}
	}

	/** A passcode is not kept in the tab. */
	keep(): void {
		if (hasLeft()) return;
		const fields = { ...$state.snapshot(this.fields), passcode: '' };
		sessionStorage.setItem(DRAFT, JSON.stringify({ fields, once: this.#once }));
	}

	/** One more device of the same customer: what was said of the device goes, who it is stays. */
	another(number: string): void {
		const { customer, kind, phone, email, hears, promised } = $state.snapshot(this.fields);
		const recent = [...this.before, number];
		this.clear();
		this.before = recent;
		this.fields = { ...blank(), customer, kind, phone, email, hears, promised };
	}

	clear(): void {
		this.before = [];
		this.promisedChance = null;
		this.fields = blank();
		this.visits = [];
		this.problem = null;
		this.#once = newOnce();
		sessionStorage.removeItem(DRAFT);
	}

	async lookBack(): Promise<void> {
		const { serial, customer, modelCode } = this.fields;
		if (!serial.trim() && customer.trim().length < 2) return;
		const request = { serial, customer, model: modelCode ?? '' };
		const query = Object.entries(request)
			.map(([name, value]) => `${name}=${encodeURIComponent(value)}`)
			.join('&');
		const answer = await fetch(`/counter/visits?${query}`).catch(() => null);
		if (answer?.ok) this.visits = (await answer.json()) as CounterVisit[];
	}

	/** Links the device to an earlier ticket, or lets go of it. What that says of device and customer fills what is still empty. */
	comesBack(visit: CounterVisit): void {
		if (this.fields.comebackOf === visit.number) {
			this.fields.comebackOf = null;
			return;
		}
		this.fields.comebackOf = visit.number;
		// a scanned receipt stands where the serial number belongs
		if (visit.why === 'receipt') this.fields.serial = visit.serial ?? '';
		if (!this.fields.modelCode) {
			this.fields.modelCode = visit.model;
			this.fields.model = visit.modelLabel;
		}
		const { customer } = visit;
		if (!customer || this.fields.customer.trim() !== '') return;
		const { name, kind, phone = '', email = '', hears_by = '' } = customer;
		Object.assign(this.fields, { customer: name, kind, phone, email, hears: hears_by });
	}

	/** @returns the number of the new ticket, or null with `problem` set and everything kept */
	async takeIn(promisedAt: number | null): Promise<string | null> {
		this.problem = null;
		this.sending = true;
		try {
			const response = await fetch('/counter/take-in', {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body: JSON.stringify(this.#body(promisedAt))
			});
			if (response.status === 200 || response.status === 422) {
				const answer = (await response.json()) as TakeInAnswer;
				if (answer.ok) return answer.number;
				this.problem = answer.refusal;
			} else {
				const message =
					response.status === 503
						? 'The database is not available. Send again in a moment.'
						: `the server answered ${response.status}; send again`;
				this.problem = { field: 'form', message };
			}
		} catch {
			this.problem = {
				field: 'form',
				message: 'The server could not be reached. Nothing is lost: send again.'
			};
		} finally {
			this.sending = false;
		}
		return null;
	}

	#body(promisedAt: number | null): TakeIn {
		const {
			customer,
			kind,
			phone,
			email,
			hears,
			model,
			modelCode,
			connector,
			promised: _,
			...rest
		} = $state.snapshot(this.fields);
		return {
			...rest,
			once: this.#once,
			customer: { name: customer, kind, phone, email, ...(hears ? { hears_by: hears } : {}) },
			model: modelCode ? { code: modelCode } : { label: model, connector: connector || null },
			claim: kind === 'trade' ? rest.claim : null,
			promisedAt,
			...(promisedAt !== null && this.promisedChance !== null ? { promisedChance: this.promisedChance } : {})
		};
	}
}
