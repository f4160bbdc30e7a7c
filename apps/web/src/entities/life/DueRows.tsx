import { LIFE_PARTS } from '@ebrix/core/life';
import { Button } from 'antd';
import type { DueList, Subject } from '@ebrix/contract';
import { formatDay, formatQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { rememberedName } from '../../shared/ui/remembered-name.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { emptyDraft, entryOf } from './entry-draft.js';
import { useSendEntries } from './entry-queue.js';

type Due = DueList[number]['due'][number];
export const DUE_WORDS = { overdue: 'Overdue', due: 'Due', soon: 'Soon', fine: 'Later' } as const;

/** What is to be done on one bike; a click writes down that it was done today. */
export function DueRows({ subject, due }: { readonly subject: Subject; readonly due: readonly Due[] }) {
  const system = useUnits();
  const send = useSendEntries();
  const notices = useNotices();
  const today = new Date().toLocaleDateString('sv');
  const doneToday = async (item: Due['item']): Promise<void> => {
    const made = entryOf(
      { ...emptyDraft(today, rememberedName(), 'service'), items: [item.id] },
      subject,
      crypto.randomUUID(),
    );
    if ('issues' in made) return;
    const sent = await send([made.entry]);
    if (sent.how === 'refused') notices.failure({ error: sent.error });
    else notices.success(`Written down: ${item.what}.`);
  };
  return (
    <div className="scroll-x">
      <table className="rows due-rows">
        <thead>
          <tr>
            <th scope="col">State</th>
            <th scope="col">What</th>
            <th scope="col" className="number">
              Left
            </th>
            <th scope="col">About</th>
            <th scope="col">Last done</th>
            <th scope="col">
              <span className="unseen">Act</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {due.map((one) => (
            <tr key={one.item.id}>
              <td>
                <span className={`due-state of-${one.state}`}>{DUE_WORDS[one.state]}</span>
              </td>
              <td>
                {one.item.what} <span className="quiet">{LIFE_PARTS[one.item.part].label.toLowerCase()}</span>
              </td>
              <td className="number">{leftWords(one, (km) => formatQuantity(km, 'km', system, 3))}</td>
              <td className="figures">{one.day === null ? '–' : formatDay(one.day)}</td>
              <td className="figures">{one.last === null ? 'never' : formatDay(one.last.day)}</td>
              <td>
                <Button
                  size="small"
                  className="no-print"
                  aria-label={`Done today: ${one.item.what}`}
                  onClick={() => void doneToday(one.item)}
                >
                  Done today
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Whichever is nearer: "120 km", "14 days", "40 km over". */
export function leftWords({ kmLeft, daysLeft }: Due, kmText: (km: number) => string): string {
  const parts = [
    kmLeft === null ? '' : kmLeft < 0 ? `${kmText(-kmLeft)} over` : kmText(kmLeft),
    daysLeft === null ? '' : daysLeft < 0 ? `${-daysLeft} days over` : `${daysLeft} days`,
  ].filter((words) => words !== '');
  return parts.join(' or ');
}
