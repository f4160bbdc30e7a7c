import { errorMessage } from '../api/base-api.js';
import { postNotice } from './notice-queue.js';

interface Notices {
  readonly success: (title: string) => void;
  /** Nothing is shown of a request that went well. */
  readonly failure: (result: { readonly error?: unknown }) => boolean;
  /** What was done, and for a while the way back. */
  readonly undoable: (key: string, title: string, undo: () => void) => void;
}

const NOTICES: Notices = {
  success: (title) => postNotice({ kind: 'success', title }),
  failure: ({ error }) => {
    if (error !== undefined) postNotice({ kind: 'error', title: errorMessage(error) });
    return error !== undefined;
  },
  undoable: (key, title, undo) => postNotice({ kind: 'info', title, key, undo }),
};

/** Short notices at the lower right, out of the way of what is being done. */
export function useNotices(): Notices {
  return NOTICES;
}
