import ical, { ICalCalendarMethod } from 'ical-generator';
import { LIFE_PARTS } from '@ebrix/core/life';
import type { DueList } from '@ebrix/contract';

/** What is due as whole days of a calendar. Each keeps its identity from one fetch to the next, so that a subscription moves it instead of adding another. */
export function serviceCalendar(list: DueList, today: string, now: Date): string {
  const calendar = ical({
    name: 'Ebrix: service',
    prodId: { company: 'ebrix', product: 'logbook', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
  });
  for (const { subject, name, due, followUps } of list) {
    for (const { item, day, state, kmLeft } of due)
      calendar.createEvent({
        id: `${subject.id}-${item.id}@ebrix`,
        stamp: now,
        start: new Date(`${laterOf(day ?? today, today)}T00:00:00Z`),
        timezone: 'UTC',
        allDay: true,
        summary: `${name}: ${item.what}`,
        description: [
          LIFE_PARTS[item.part].label,
          state === 'overdue' ? 'overdue' : '',
          kmLeft === null ? '' : kmLeft < 0 ? `${Math.round(-kmLeft)} km over` : `${Math.round(kmLeft)} km left`,
        ]
          .filter((words) => words !== '')
          .join(', '),
      });
    for (const { stage, day } of followUps)
      calendar.createEvent({
        id: `${subject.id}-ask-${stage.id}@ebrix`,
        stamp: now,
        start: new Date(`${laterOf(day ?? today, today)}T00:00:00Z`),
        timezone: 'UTC',
        allDay: true,
        summary: `${name}: ask the rider (${stage.label.toLowerCase()})`,
      });
  }
  return calendar.toString();
}

function laterOf(a: string, b: string): string {
  return a > b ? a : b;
}
