import ical, { ICalCalendarMethod } from 'ical-generator';
import type { FloorView } from './queries';

/** A calendar program asks again after so long. */
const ASK_AGAIN_SECONDS = 900;

/** One person's planned work as an iCalendar feed (RFC 5545): ticket, device and what is done; no customer, no price. */
export function calendarFeed(
	floor: Pick<FloorView, 'tasks' | 'tags'>,
	technician: { code: string; name: string },
	shop: { name: string }
): string {
	const calendar = ical({
		name: `${technician.name}, ${shop.name}`,
		method: ICalCalendarMethod.PUBLISH,
		prodId: { company: 'tavrek', product: 'tavrek', language: 'EN' },
		ttl: ASK_AGAIN_SECONDS
	});
	const models = new Map(floor.tags.map(({ number, model }) => [number, model]));
	for (const task of floor.tasks.filter((item) => item.technician === technician.code)) {
		calendar.createEvent({
			// the same task keeps its name when the plan moves it
			id: `${task.number}-${task.code.replace(/[^A-Za-z0-9-]+/g, '-')}@tavrek`,
			start: new Date(task.start),
			end: new Date(task.end),
			summary: `${task.number} ${task.label}`,
			description: models.get(task.number) ?? ''
		});
	}
	return calendar.toString();
}
