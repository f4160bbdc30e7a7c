const KEY = 'ebrix.signature';

/** The name this browser signed with last. */
export function rememberedName(): string {
  return localStorage.getItem(KEY) ?? '';
}
export function rememberName(name: string): void {
  localStorage.setItem(KEY, name);
}
