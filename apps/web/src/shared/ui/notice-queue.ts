/** What shall be said at the lower right of the page. */
export interface Notice {
  readonly kind: 'error' | 'info' | 'success';
  readonly title: string;
  /** One of the same key takes the place of the one before. */
  readonly key?: string;
  readonly undo?: () => void;
}
type Show = (notice: Notice) => void;

const waiting: Notice[] = [];
let show: Show | undefined;
let onFirst: (() => void) | undefined;

export function postNotice(notice: Notice): void {
  if (show) return show(notice);
  waiting.push(notice);
  onFirst?.();
}

/** Says what was posted, from now on and what waits; gives back how to stop. */
export function serveNotices(by: Show): () => void {
  show = by;
  waiting.splice(0).forEach(by);
  return () => {
    if (show === by) show = undefined;
  };
}

/** Called whenever a notice has nobody to say it. */
export function onWaitingNotice(call: () => void): () => void {
  onFirst = call;
  if (waiting.length > 0) call();
  return () => {
    if (onFirst === call) onFirst = undefined;
  };
}
