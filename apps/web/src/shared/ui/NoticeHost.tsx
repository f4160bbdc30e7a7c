import { Button, notification } from 'antd';
import { useEffect } from 'react';
import { LibraryTheme } from './LibraryTheme.js';
import { serveNotices } from './notice-queue.js';

const PLACEMENT = 'bottomRight';

/** Short notices at the lower right, out of the way of what is being done. */
export default function NoticeHost() {
  return (
    <LibraryTheme>
      <Host />
    </LibraryTheme>
  );
}

function Host() {
  const [api, holder] = notification.useNotification();
  useEffect(
    () =>
      serveNotices(({ kind, title, key, undo }) =>
        api[kind]({
          title,
          placement: PLACEMENT,
          ...(key !== undefined && { key }),
          ...(undo && {
            actions: (
              <Button
                size="small"
                onClick={() => {
                  api.destroy(key);
                  undo();
                }}
              >
                Undo
              </Button>
            ),
          }),
        }),
      ),
    [api],
  );
  return holder;
}
