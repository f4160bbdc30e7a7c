/** Answers of the server by path (without `/api/` and query), and what was asked of it. */
export interface FakeApi {
  readonly requests: {
    readonly method: string;
    readonly path: string;
    readonly query: URLSearchParams;
    readonly body: unknown;
  }[];
}
/** Data, or a function of the request that gives data or a whole response. */
type QueryView = object | ((request: { body: unknown; method: string; query: URLSearchParams }) => unknown);

/** Puts canned answers in place of the network; what has none is a 404 in the server's own error shape. */
export function fakeApi(answers: Readonly<Record<string, QueryView>>): FakeApi {
  const requests: FakeApi['requests'] = [];
  globalThis.fetch = async (input: RequestInfo | URL, init?: RequestInit): Promise<Response> => {
    const request = new Request(input, init);
    const url = new URL(request.url);
    const path = url.pathname.replace(/^\/api\//, '');
    const text = await request
      .clone()
      .text()
      .catch(() => '');
    const body: unknown = /^[{[]/.test(text) ? JSON.parse(text) : undefined;
    requests.push({ method: request.method, path, query: url.searchParams, body });
    const answer = answers[`${request.method} ${path}`] ?? answers[path];
    if (answer === undefined)
      return Response.json({ error: { code: 'not-found', message: 'Not in this test.' } }, { status: 404 });
    const given: unknown =
      typeof answer === 'function'
        ? await (answer as (request: object) => unknown)({ body, method: request.method, query: url.searchParams })
        : answer;
    return given instanceof Response ? given : Response.json(given);
  };
  return { requests };
}

export function refusal(status: number, code: string, message: string): Response {
  return Response.json({ error: { code, message } }, { status });
}
