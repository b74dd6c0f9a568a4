import { api, refusal } from './client';
import { lookHeaders } from './lookAs';

/** How a file is waited for. */
export interface Waiting {
  /** Ends it. */
  signal?: AbortSignal;
  /** Is told again and again how far it is, in words. */
  onProgress?: (words: string) => void;
}

/** How long to wait between two questions of how far a file is, in milliseconds. */
const askAgain = 400;

/** Has the service make a file. A refusal is thrown. */
export async function fileOf(path: string, body: unknown, { signal, onProgress }: Waiting = {}): Promise<Response> {
  const progress = Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join(
    '',
  );
  let timer: ReturnType<typeof setTimeout> | undefined;
  let isOver = false;
  const ask = async () => {
    const { data } = await api
      .GET('/api/files/{progress}', { params: { path: { progress } }, signal })
      // Who can't be told how far it is waits all the same: the file itself says what is wrong.
      .catch(() => ({ data: undefined }));
    if (isOver) return;
    if (data) onProgress?.(data.words);
    timer = setTimeout(ask, askAgain);
  };
  if (onProgress) timer = setTimeout(ask, askAgain);
  try {
    const response = await fetch(onProgress ? `${path}?progress=${progress}` : path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', ...lookHeaders },
      signal,
      body: JSON.stringify(body),
    });
    if (!response.ok) throw await refusal(response);
    return response;
  } finally {
    isOver = true;
    clearTimeout(timer);
  }
}

/**
 * Has the service make a file, and puts it with the downloads of the browser.
 * @returns What it is called.
 */
export async function saved(path: string, body: unknown, waiting?: Waiting): Promise<string> {
  const response = await fileOf(path, body, waiting);
  const name = /filename=("?)([^";]+)\1/.exec(response.headers.get('Content-Disposition') ?? '')?.[2] ?? 'file';
  await download(response, name);
  return name;
}

/** Puts what came with the downloads of the browser. */
export async function download(response: Response, name: string): Promise<void> {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(await response.blob());
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
