/** What a person searches for as a pattern: their per cent signs and underscores are letters, not wildcards. */
export function partOf(text: string): string {
  return `%${text.trim().replaceAll(/[\\%_]/g, (mark) => `\\${mark}`)}%`;
}
