import { useEffect, useState, type ComponentType } from 'react';
import { onWaitingNotice, serveNotices, type Notice } from './notice-queue.js';

/** Where notices are shown: their piece of the program comes with the first of them, or before. */
export function Notices({
  bring = async () => (await import('./NoticeHost.js')).default,
}: {
  readonly bring?: () => Promise<ComponentType>;
}) {
  const [Host, setHost] = useState<ComponentType>();
  useEffect(
    () =>
      onWaitingNotice(
        () =>
          void bring().then(
            (found) => setHost(() => found),
            () => setHost(() => PlainNotices),
          ),
      ),
    [bring],
  );
  return Host ? <Host /> : null;
}

/** Without a connection the others cannot come: what went wrong is said all the same, until it is closed. */
function PlainNotices() {
  const [notices, setNotices] = useState<readonly Notice[]>([]);
  useEffect(() => serveNotices((notice) => setNotices((before) => [...before, notice])), []);
  const close = (notice: Notice): void => setNotices((before) => before.filter((one) => one !== notice));
  return (
    <div className="plain-notices" role="alert">
      {notices.map((notice, k) => (
        <p key={k} className="problem">
          {notice.title}{' '}
          {notice.undo && (
            <button
              type="button"
              className="text-button"
              onClick={() => {
                close(notice);
                notice.undo?.();
              }}
            >
              Undo
            </button>
          )}{' '}
          <button type="button" className="text-button" onClick={() => close(notice)}>
            Close
          </button>
        </p>
      ))}
    </div>
  );
}
