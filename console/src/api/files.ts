import { refusal } from './client';
import { lookHeaders } from './lookAs';

/** Has the service make a file. A refusal is thrown. */
export async function fileOf(path: string, body: unknown, signal?: AbortSignal): Promise<Response> {
  const response = await fetch(path, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...lookHeaders },
    signal,
    body: JSON.stringify(body),
  });
  if (!response.ok) throw await refusal(response);
  return response;
}

/**
 * Has the service make a file, and puts it with the downloads of the browser.
 * @returns What it is called.
 */
export async function saved(path: string, body: unknown, signal?: AbortSignal): Promise<string> {
  const response = await fileOf(path, body, signal);
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
