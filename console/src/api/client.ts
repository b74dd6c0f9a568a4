import createClient from 'openapi-fetch';
import { askedPage, pageBeside } from './draft';
import { lookHeaders } from './lookAs';
import type { components, paths } from './schema';

export type Schemas = components['schemas'];
export type DashboardPage = Schemas['DashboardPage'];
export type TileInfo = Schemas['TileInfo'];
export type TabInfo = Schemas['TabInfo'];
export type TileResult = Schemas['TileResult'];
export type ColumnInfo = Schemas['ColumnInfo'];
export type FieldInfo = Schemas['FieldInfo'];
export type FormatInfo = Schemas['FormatInfo'];
export type TableColumns = Schemas['TableColumns'];
export type ViewEdit = Schemas['ViewEdit'];
export type Explanation = Schemas['Explanation'];
export type Session = Schemas['SessionInfo'];
export type ParameterState = Schemas['ParameterState'];
export type TableInfo = Schemas['TableInfo'];
export type TableDetail = Schemas['TableDetail'];
export type SourceStep = Schemas['SourceStep'];
export type PreviewAnswer = Schemas['PreviewAnswer'];
export type QualityAnswer = Schemas['QualityAnswer'];
export type FaultInfo = Schemas['FaultInfo'];

/** The zone in which the viewer's "today" is worked out: their own, where the browser tells it. */
export const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || null;

/** A value of a result or of a selection, as JSON has it. */
export type Value = string | number | boolean | null;

/**
 * What the service has the browser ask ahead of the console is asked as oneself and of what is published. A browser gives such an answer
 * to whoever asks for the same address with the same credentials, whatever headers stand beside: who asks as another, or of a draft,
 * asks with others. Within one origin both send the same.
 */
const credentials = Object.keys(lookHeaders).length === 0 ? 'include' : 'same-origin';

export const api = createClient<paths>({ baseUrl: '/', headers: lookHeaders, credentials });
api.use({
  onRequest({ request, schemaPath }) {
    const { now } = pageBeside;
    // What changes the draft, one after the other; what only looks at it must not pass for the change that is on its way.
    const changes = request.method === 'PUT' || /\/(steps|edits|undo|redo|merge)$/.test(schemaPath);
    if (now === undefined || !changes || !schemaPath.startsWith('/api/drafts/')) return;
    request.headers.set('Weir-Page', askedPage(now));
  },
});

/** A refusal by the service, with its stable code. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly remedy?: string,
  ) {
    super(message);
  }
}

/** Reads a refusal from a response that is none of success. */
export async function refusal(response: Response, problem?: unknown): Promise<Refused> {
  const body = (problem ?? (await response.json().catch(() => null))) as Record<string, string> | null;
  return new Refused(
    response.status,
    body?.code ?? 'no-answer',
    body?.detail ?? `The service answered ${response.status}.`,
    body?.remedy,
  );
}

/** The data of an answer, or its refusal thrown. */
export async function unwrap<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await answer;
  if (!response.ok) throw await refusal(response, error);
  return data as T;
}

/** The JSON lines of a streamed answer, as they come. */
export async function* lines<T>(
  path: string,
  body: unknown,
  signal: AbortSignal,
  headers: Record<string, string> = {},
): AsyncGenerator<T> {
  const response = await fetch(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...lookHeaders, ...headers },
    body: JSON.stringify(body),
    signal,
  });
  if (!response.ok || !response.body) throw await refusal(response);
  const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  // The first is seen at once.
  let since = Number.NEGATIVE_INFINITY;
  for (;;) {
    const { done, value } = await reader.read();
    const parts = (rest + (value ?? '')).split('\n');
    rest = parts.pop() ?? '';
    for (const part of parts) {
      yield JSON.parse(part) as T;
      if (performance.now() - since < breathless) continue;
      await breath();
      since = performance.now();
    }
    if (done) return;
  }
}

/** So long, in milliseconds, lines are taken without a moment for the browser: each costs a layout and a painting of the page. */
const breathless = 40;

/** A moment in which the browser can paint: what came together is shown one after the other, and the first not only with the last. */
const breath = () =>
  new Promise<void>((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });
