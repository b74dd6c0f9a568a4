import type { Question, Service } from '../model/page/service';
import { asked } from '../model/selections';
import { api, lines, type Schemas, type TileResult, unwrap, zone } from './client';
import { drafted, tellDraft } from './draft';

const bodyOf = ({ tiles, selections, set, isAnew }: Question, view: string) => ({
  tiles,
  selections: asked(selections),
  viewing: { parameters: set, zone, view },
  ...(isAnew ? { refresh: true } : {}),
});

/**
 * What the page of a dashboard asks the service for, in one of the viewer's views.
 * @param headers What its questions carry besides.
 */
export function serviceOf(dashboard: string, view: string, headers: Record<string, string> = {}): Service {
  const at = `/api/dashboards/${encodeURIComponent(dashboard)}`;
  const path = { dashboard };
  const changing = (set: string | null, request: string) => ({
    params: {
      path,
      query: { view, ...(set === null ? {} : { set }) },
      header: { 'Idempotency-Key': request },
    },
  });
  return {
    results: (question, signal) => lines<TileResult>(`${at}/results`, bodyOf(question, view), signal, headers),
    cells: (driver, question, signal) =>
      lines<Schemas['BrushLine']>(
        `${at}/tiles/${encodeURIComponent(driver)}/brush`,
        bodyOf(question, view),
        signal,
        headers,
      ),
    opening: (selections, set) =>
      unwrap(
        api.POST('/api/dashboards/{dashboard}/opening', {
          params: { path },
          headers,
          body: {
            selections: selections === undefined ? null : asked(selections),
            viewing: { parameters: set, zone, view },
          },
        }),
      ),
    members: async (tile, search, { selections, set }, signal) => {
      const answer = await unwrap(
        api.POST('/api/dashboards/{dashboard}/tiles/{tile}/members', {
          params: { path: { dashboard, tile } },
          headers,
          body: { search, selections: asked(selections), viewing: { parameters: set, zone, view } },
          signal,
        }),
      );
      return { members: answer.members, lines: answer.lines, names: answer.names ?? null };
    },
    file: async (tile, signal) => {
      const answer = await unwrap(
        api.GET('/api/dashboards/{dashboard}/tiles/{tile}/file', {
          params: { path: { dashboard, tile }, query: { view } },
          parseAs: 'blob',
          headers,
          signal,
        }),
      );
      return addressOf(answer);
    },
    edit: async (body, set, request) => {
      if (drafted === undefined)
        return unwrap(api.POST('/api/dashboards/{dashboard}/view/edits', { ...changing(set, request), body }));
      // The page of a draft has no views: what is done to it is written into its text.
      tellDraft(
        await unwrap(api.POST('/api/drafts/dashboards/{dashboard}/edits', { params: { path }, body: { edit: body } })),
      );
      return unwrap(
        api.GET('/api/dashboards/{dashboard}', { params: { path, query: { view, ...(set === null ? {} : { set }) } } }),
      );
    },
    goTo: (step, set, request) =>
      unwrap(api.POST('/api/dashboards/{dashboard}/view/go-to', { ...changing(set, request), body: { step } })),
    step: (way, set, request) =>
      unwrap(
        way === 'undo'
          ? api.POST('/api/dashboards/{dashboard}/view/undo', changing(set, request))
          : api.POST('/api/dashboards/{dashboard}/view/redo', changing(set, request)),
      ),
  };
}

/** A file as an address that holds it. */
const addressOf = (file: Blob) =>
  new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(reader.error);
    reader.readAsDataURL(file);
  });
