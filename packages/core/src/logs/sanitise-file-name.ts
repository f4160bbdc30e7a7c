/** The last part of a path, without control and direction-changing characters, at most 120 characters. */
export function sanitiseFileName(name: string): string {
  const last = name.split(/[/\\]/).pop() ?? '';
  const clean = last
    .replaceAll(/[\p{Cc}\p{Cf}]/gu, '')
    .trim()
    .slice(0, 120);
  return clean === '' || clean === '.' || clean === '..' ? 'unnamed' : clean;
}
