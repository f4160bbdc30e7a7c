/** The part of papaparse used here; its published types would pull in DOM and Node. */
declare module 'papaparse' {
  interface ParseError {
    readonly type: string;
    readonly code: string;
    readonly message: string;
    readonly row?: number;
  }
  interface ParseResult {
    readonly data: string[][];
    readonly errors: readonly ParseError[];
  }
  interface StepResult {
    readonly data: string[];
    readonly errors: readonly ParseError[];
  }
  interface Options {
    delimiter: string;
    newline?: string;
    quoteChar?: string;
    fastMode?: boolean;
    preview?: number;
    step?: (result: StepResult, parser: { abort(): void }) => void;
  }
  const Papa: { parse(text: string, options: Options): ParseResult };
  export default Papa;
}
