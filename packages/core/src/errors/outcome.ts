/** Data that cannot carry the answer is a result with a reason, never a number made of nothing. */
export type Outcome<T, Reason extends string> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly reason: Reason };

export function success<T>(value: T): { readonly ok: true; readonly value: T } {
  return { ok: true, value };
}

export function refusal<Reason extends string>(reason: Reason): { readonly ok: false; readonly reason: Reason } {
  return { ok: false, reason };
}
