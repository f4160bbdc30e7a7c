import type { EntryInput, Subject } from '@ebrix/contract';
import { useNotices } from '../../shared/ui/use-notices.js';
import { emptyDraft, entryOf, type EntryDraft } from './entry-draft.js';
import { useSendEntries } from './entry-queue.js';

interface Trouble extends Partial<EntryDraft> {
  readonly day: string;
  readonly by: string;
}

/** Trouble met elsewhere as a fault of that day. What it was made of goes with it, so that it lands there once, however often it is clicked. */
export function useIntoLogbook(): (
  trouble: Trouble,
  subject: Subject,
  source: NonNullable<EntryInput['source']>,
) => Promise<void> {
  const send = useSendEntries();
  const notices = useNotices();
  return async ({ day, by, ...fields }, subject, source) => {
    const made = entryOf(
      { ...emptyDraft(day, by, 'fault'), part: 'other', ...fields },
      subject,
      crypto.randomUUID(),
      source,
    );
    if ('issues' in made) return;
    const sent = await send([made.entry]);
    if (sent.how === 'refused') notices.failure({ error: sent.error });
    else notices.success('It stands in the logbook as a fault; say there what it did to the ride.');
  };
}
