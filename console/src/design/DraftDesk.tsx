import { Alert, Button } from '@mantine/core';
import '@mantine/core/styles/Alert.css';
import { History, Redo2, Send, Share2, Undo2, Upload } from 'lucide-react';
import { lazy, type ReactNode, Suspense, useMemo, useState } from 'react';
import { api, type FaultInfo, type Schemas, unwrap } from '../api/client';
import { ownPrefix } from '../api/draft';
import { OneOf } from '../look/OneOf';
import { KeptBeside } from './Beside';
import classes from './design.module.css';
import type { Desk } from './useDesk';
import type { Wording } from './YamlEditor';

const YamlEditor = lazy(() => import('./YamlEditor'));
const PublishDialog = lazy(() => import('./PublishDialog'));
const MergeDialog = lazy(() => import('./MergeDialog'));
const RenameDialog = lazy(() => import('./RenameDialog'));
const HandOverDialog = lazy(() => import('./HandOverDialog'));
const OwnShareDialog = lazy(() => import('./OwnShareDialog'));
const HistoryPanel = lazy(() => import('./HistoryPanel'));

interface Props {
  desk: Desk;
  words: Wording;
  /** Where the draft is published to be seen. */
  address: string;
  /** Where to go from what was never published. */
  list: string;
  /** What stays as it was while there is an error; undefined where nothing does. */
  stays: string | undefined;
  /** What else can be done with the draft. */
  tools?: ReactNode;
  /** The design by hand; what has none is text alone. */
  children?: ReactNode;
}

/** What is open over a draft. */
type Open = 'publish' | 'history' | 'rename' | 'hand over' | 'share';

/** The right half of a page that designs: the state of the draft, its steps, and the design by hand or as text. */
export function DraftDesk({ desk, words, address, list, stays, tools, children }: Props) {
  const [open, setOpen] = useState<Open>();
  const [clashes, setClashes] = useState<Schemas['Clash'][]>();
  const { kind, name, work, way } = desk;
  const { draft, show } = work;
  const own = useMemo(() => draft.faults.filter((f) => f.file === draft.path), [draft]);
  const isBroken = draft.faults.some((f) => f.severity === 'error');
  const after = draft.published === null ? list : address;

  return (
    <>
      <section className={classes.text} aria-label="The design">
        <State desk={desk} onRename={() => setOpen('rename')} />
        <Steps desk={desk} isBroken={isBroken} onOpen={setOpen}>
          {tools}
          <a href={after}>Leave</a>
        </Steps>
        <KeptBeside />
        <Problems desk={desk} onClashes={setClashes} />
        {children !== undefined && (
          <OneOf
            aria-label="How to design"
            data={[
              { value: 'hand', label: 'By hand' },
              { value: 'text', label: 'As text' },
            ]}
            value={way}
            onChange={(v) => desk.setWay(v as typeof way)}
          />
        )}
        {way === 'hand' && children}
        {desk.hasEditor && (
          <div className={classes.editor} hidden={way !== 'text'}>
            <Suspense>
              <YamlEditor
                ref={desk.taking}
                label={`Text of ${name}`}
                text={work.text()}
                faults={own}
                words={words}
                onChange={work.change}
              />
            </Suspense>
          </div>
        )}
        <Faults path={draft.path} faults={draft.faults} stays={stays} onGo={(f) => desk.go(f.line, f.column)} />
      </section>
      {clashes && (
        <Suspense>
          <MergeDialog
            kind={kind}
            name={name}
            step={draft.step}
            clashes={clashes}
            onMerged={(merged) => {
              setClashes(undefined);
              show(merged);
            }}
            onClose={() => setClashes(undefined)}
          />
        </Suspense>
      )}
      {open && (
        <Suspense>
          <Opened
            open={open}
            desk={desk}
            isBroken={isBroken}
            address={address}
            after={after}
            onClose={() => setOpen(undefined)}
          />
        </Suspense>
      )}
    </>
  );
}

/** What is designed, and whether its draft is stored. */
function State({ desk: { kind, name, work }, onRename }: { desk: Desk; onRename: () => void }) {
  const { draft, state } = work;
  const canBeRenamed = kind === 'dashboards' || kind === 'datasets';
  const saved = draft.isDraft ? 'Draft saved' : 'As published';
  return (
    <div className={classes.bar}>
      <span className={classes.path}>{draft.mayPublish ? draft.path : name}</span>
      {draft.mayPublish && draft.published !== null && canBeRenamed && (
        <button type="button" className={classes.link} onClick={onRename}>
          Another name …
        </button>
      )}
      <span className="quiet" role="status" data-draft={state}>
        {state === 'saved' ? saved : state === 'saving' ? 'Saving …' : '…'}
      </span>
    </div>
  );
}

/** The steps of a draft, back and on again, and where it goes from here. */
function Steps({
  desk: { kind, name, work },
  isBroken,
  onOpen,
  children,
}: {
  desk: Desk;
  isBroken: boolean;
  onOpen: (what: Open) => void;
  children: ReactNode;
}) {
  const { draft, state, byHand } = work;
  const path = { params: { path: { kind, name } } };
  const go = (way: 'undo' | 'redo') =>
    byHand(() =>
      unwrap(
        way === 'undo'
          ? api.POST('/api/drafts/{kind}/{name}/undo', path)
          : api.POST('/api/drafts/{kind}/{name}/redo', path),
      ),
    );
  const isOwn = !draft.mayPublish && name.startsWith(ownPrefix);
  const isUnfit = draft.mayPublish && (isBroken || draft.text === draft.published);
  return (
    <div className={classes.bar}>
      <Button
        size="compact-sm"
        variant="default"
        disabled={!draft.canUndo}
        onClick={() => void go('undo')}
        leftSection={<Undo2 size={14} aria-hidden />}
      >
        Undo
      </Button>
      <Button
        size="compact-sm"
        variant="default"
        disabled={!draft.canRedo}
        onClick={() => void go('redo')}
        leftSection={<Redo2 size={14} aria-hidden />}
      >
        Redo
      </Button>
      {draft.mayPublish && (
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => onOpen('history')}
          leftSection={<History size={14} aria-hidden />}
        >
          History
        </Button>
      )}
      <Button
        size="compact-sm"
        disabled={!draft.isDraft || state !== 'saved' || isUnfit}
        onClick={() => onOpen(draft.mayPublish ? 'publish' : 'hand over')}
        leftSection={draft.mayPublish ? <Upload size={14} aria-hidden /> : <Send size={14} aria-hidden />}
      >
        {draft.mayPublish ? 'Publish …' : 'Hand over …'}
      </Button>
      {isOwn && (
        <Button
          size="compact-sm"
          variant="default"
          disabled={!draft.isDraft}
          onClick={() => onOpen('share')}
          leftSection={<Share2 size={14} aria-hidden />}
        >
          Share …
        </Button>
      )}
      {children}
    </div>
  );
}

/** What kept a draft from being stored, and what others published meanwhile. @param onClashes Where both changed the same lines. */
function Problems({
  desk: { kind, name, work },
  onClashes,
}: {
  desk: Desk;
  onClashes: (clashes: Schemas['Clash'][]) => void;
}) {
  const { draft, problem } = work;
  /** What others published comes into the draft; where both changed the same lines, it is asked whose stay. */
  const takeIn = () =>
    work.byHand(async (now) => {
      const answer = await unwrap(
        api.POST('/api/drafts/{kind}/{name}/merge', { params: { path: { kind, name } }, body: { step: now.step } }),
      );
      if (answer.draft) return answer.draft;
      onClashes(answer.clashes);
      return now;
    });
  return (
    <>
      {problem && (
        <Alert color="red" p="xs" role="alert">
          {problem.message}{' '}
          <button
            type="button"
            className={classes.link}
            onClick={() => void (problem.isBehind ? work.reload() : problem.isByHand ? work.dismiss() : work.save())}
          >
            {problem.isBehind ? 'Load it anew' : problem.isByHand ? 'All right' : 'Try again'}
          </button>
        </Alert>
      )}
      {draft.isBehind && (
        <p className={classes.behind}>
          Somebody published this file since this draft was begun.{' '}
          <button type="button" className={classes.link} onClick={() => void takeIn()}>
            Take it into the draft
          </button>
        </p>
      )}
    </>
  );
}

/** The dialog or panel that is open over a draft. */
function Opened({
  open,
  desk,
  isBroken,
  address,
  after,
  onClose,
}: {
  open: Open;
  desk: Desk;
  isBroken: boolean;
  address: string;
  /** Where to go once it is gone. */
  after: string;
  onClose: () => void;
}) {
  const { kind, name, work } = desk;
  const { draft } = work;
  const isDataset = kind === 'datasets';
  switch (open) {
    case 'publish':
      return <PublishDialog kind={kind} name={name} draft={draft} address={address} after={after} onClose={onClose} />;
    case 'hand over':
      return (
        <HandOverDialog
          name={name}
          draft={draft}
          isBroken={isBroken}
          after={after}
          onDone={work.reload}
          onClose={onClose}
        />
      );
    case 'share':
      return <OwnShareDialog name={name} onClose={onClose} />;
    case 'rename':
      return (
        <RenameDialog
          of={{ kind: isDataset ? 'dataset' : 'dashboard', name, isTitle: draft.written?.said.title === undefined }}
          hasDraft={draft.isDraft}
          onDone={(next) => window.location.assign(isDataset ? `/data/${next}/change` : `/d/${next}/design`)}
          onClose={onClose}
        />
      );
    case 'history':
      return (
        <HistoryPanel
          path={draft.path}
          dashboard={kind === 'dashboards' ? name : undefined}
          text={draft.text}
          step={draft.step}
          onTake={(text) => {
            desk.replace(text);
            onClose();
          }}
          onClose={onClose}
        />
      );
  }
}

/** What the check found, each a way to its place. */
function Faults({
  path,
  faults,
  stays,
  onGo,
}: {
  path: string;
  faults: FaultInfo[];
  stays: string | undefined;
  onGo: (fault: FaultInfo) => void;
}) {
  const [errors, others] = [faults.filter((f) => f.severity === 'error'), faults.filter((f) => f.severity !== 'error')];
  return (
    // What scrolls can be reached and scrolled by keys alone.
    <div className={classes.faults} role="status" aria-label="What the check found" tabIndex={0}>
      {faults.length === 0 && <p className="quiet">No fault.</p>}
      {errors.length > 0 && stays && <p className="quiet">{stays}</p>}
      <ul>
        {[...errors, ...others].map((f) => (
          <li key={`${f.file} ${f.line} ${f.column} ${f.message}`} data-severity={f.severity}>
            {f.file === path ? (
              <button type="button" className={classes.link} onClick={() => onGo(f)}>
                Line {f.line}
              </button>
            ) : (
              `${f.file}, line ${f.line}`
            )}
            : {f.message} {f.remedy}
          </li>
        ))}
      </ul>
    </div>
  );
}
