import type { FormInstance } from 'antd';
import { useCallback, useEffect } from 'react';

/** Keeps what was typed in a form through errors, reloads and lost connections; `clear` after it was saved. */
export function useDraft(key: string, form: FormInstance): { keep: () => void; clear: () => void } {
  useEffect(() => {
    const stored = sessionStorage.getItem(`draft.${key}`);
    if (stored) form.setFieldsValue(JSON.parse(stored) as Record<string, never>);
  }, [key, form]);
  const keep = useCallback(
    () => sessionStorage.setItem(`draft.${key}`, JSON.stringify(form.getFieldsValue(true))),
    [key, form],
  );
  const clear = useCallback(() => sessionStorage.removeItem(`draft.${key}`), [key]);
  return { keep, clear };
}
