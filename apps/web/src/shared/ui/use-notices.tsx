import { App as AntApp, Button } from 'antd';
import { errorMessage } from '../api/base-api.js';

const PLACEMENT = 'bottomRight';

interface Notices {
  readonly success: (title: string) => void;
  /** Nothing is shown of a request that went well. */
  readonly failure: (result: { readonly error?: unknown }) => boolean;
  /** What was done, and for a while the way back. */
  readonly undoable: (key: string, title: string, undo: () => void) => void;
}

/** Short notices at the lower right, out of the way of what is being done. */
export function useNotices(): Notices {
  const { notification } = AntApp.useApp();
  return {
    success: (title) => notification.success({ title, placement: PLACEMENT }),
    failure: ({ error }) => {
      if (error !== undefined) notification.error({ title: errorMessage(error), placement: PLACEMENT });
      return error !== undefined;
    },
    undoable: (key, title, undo) =>
      notification.info({
        key,
        title,
        placement: PLACEMENT,
        actions: (
          <Button
            size="small"
            onClick={() => {
              notification.destroy(key);
              undo();
            }}
          >
            Undo
          </Button>
        ),
      }),
  };
}
