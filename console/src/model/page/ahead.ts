import type { TileResult } from '../../api/client';
import type { Question, Service } from './service';

interface Asked {
  question: string;
  control: AbortController;
  lines: AsyncIterator<TileResult>;
  first: Promise<IteratorResult<TileResult>>;
}

/** A service that can be asked for figures before there is a page that shows them. */
export interface AheadService extends Service {
  /** Asks already; the first question of the page gets this answer, if it is the same question. */
  askAhead: (question: Question) => void;
}

/** A service, with room for one question that is asked ahead. */
export function withAhead(service: Service): AheadService {
  let ahead: Asked | undefined;
  return {
    ...service,
    askAhead: (question) => {
      const control = new AbortController();
      const lines = service.results(question, control.signal)[Symbol.asyncIterator]();
      const first = lines.next();
      // Whoever takes the answer is told of a failure; where nobody does, there is nothing that it is missing from.
      first.catch(() => undefined);
      ahead = { question: JSON.stringify(question), control, lines, first };
    },
    results: (question, signal) => {
      const asked = ahead;
      ahead = undefined;
      if (asked?.question === JSON.stringify(question)) return taken(asked, signal);
      asked?.control.abort();
      return service.results(question, signal);
    },
  };
}

/** The lines of an answer that was asked for before. */
async function* taken({ control, lines, first }: Asked, signal: AbortSignal): AsyncGenerator<TileResult> {
  const abort = () => control.abort();
  signal.addEventListener('abort', abort);
  try {
    for (let line = await first; !line.done; line = await lines.next()) yield line.value;
  } finally {
    signal.removeEventListener('abort', abort);
  }
}
