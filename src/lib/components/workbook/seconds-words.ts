/** Seconds as a log's reader says them: "12.5 s", "14:00", "2:05:10". */
export function secondsWords(seconds: number): string {
	if (seconds < 60) return `${seconds.toFixed(1)} s`;
	const whole = Math.round(seconds);
	const two = (value: number) => String(value).padStart(2, '0');
	const [h, m, s] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
	return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}
