export class PrivateDatabase {
	constructor(data: string);
	livePid(): number | null;
	start(): Promise<string>;
	watch(): void;
	stop(): Promise<void>;
	readonly datadir: string;
}
export function freePort(from: number): Promise<number>;
