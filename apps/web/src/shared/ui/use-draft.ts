import type { FormInstance } from 'antd';
import { useCallback, useEffect } from 'react';
import { fittingFields, isFields, readDraft } from './stored-draft.js';

/** Keeps what was typed in a form through errors, reloads and lost connections; `clear` after it was saved. */
export function useDraft(key: string, form: FormInstance): { keep: () => void; clear: () => void } {
  useEffect(() => {
    const values = form.getFieldsValue(true) as Record<string, unknown>;
    const draft = readDraft(sessionStorage, `draft.${key}`, (stored) =>
      isFields(stored) ? fittingFields(stored, values) : undefined,
    );
    if (draft) form.setFieldsValue(draft);
  }, [key, form]);
  const keep = useCallback(
    () => sessionStorage.setItem(`draft.${key}`, JSON.stringify(form.getFieldsValue(true))),
    [key, form],
  );
  const clear = useCallback(() => sessionStorage.removeItem(`draft.${key}`), [key]);
  return { keep, clear };
}
