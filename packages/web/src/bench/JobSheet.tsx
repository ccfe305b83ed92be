import { practiceSentences, ruleSentences } from '@contactum/core';
import { Button, Popconfirm, Tabs } from 'antd';
import { useStore } from 'zustand';
import type { ExerciseForStudent } from '@contactum/contract';
import { leadColour } from '../board/colours.js';
import { DeviceTable } from '../board/DeviceTable.js';
import type { BenchStore } from './store.js';

/** The sheet beside the board: what is asked, the devices, the leads laid so far, and handing in. */
export function JobSheet({
  exercise,
  store,
  busy,
  onHandIn,
  attemptNumber,
  className,
}: {
  exercise: ExerciseForStudent;
  store: BenchStore;
  busy: boolean;
  onHandIn: () => void;
  attemptNumber: number;
  className: string;
}) {
  const wires = useStore(store, (state) => state.bench.wires);
  const practice = practiceSentences(exercise.practice ?? undefined);
  const locked = useStore(store, (state) => state.locked);
  const selected = useStore(store, (state) => state.selected);
  return (
    <aside className="job-sheet">
      <header>
        <h1>{exercise.title}</h1>
        <p className="quiet">
          Attempt {attemptNumber} · {className}
        </p>
      </header>
      <Tabs
        size="small"
        className="job-tabs"
        items={[
          {
            key: 'job',
            label: 'Job',
            children: (
              <div className="job-scroll">
                <p>{exercise.brief}</p>
                <h2>It must</h2>
                <ul className="must">
                  {exercise.behaviours.map(({ id, title }) => (
                    <li key={id}>{title}</li>
                  ))}
                </ul>
                <h2>House rules</h2>
                <ul className="must">
                  {ruleSentences(exercise.rules).map((text) => (
                    <li key={text}>{text}</li>
                  ))}
                </ul>
                {practice.length > 0 && (
                  <>
                    <h2>Work practice</h2>
                    <ul className="must">
                      {practice.map((text) => (
                        <li key={text}>{text}</li>
                      ))}
                    </ul>
                  </>
                )}
                <p className="caution">
                  <strong>On a real board:</strong> isolate, lock off and prove dead before you touch it.
                  Nobody energises before the instructor says so. A pass here does not make real hardware
                  safe; local codes and a licensed person decide.
                </p>
              </div>
            ),
          },
          {
            key: 'devices',
            label: 'Devices',
            children: (
              <div className="job-scroll">
                <DeviceTable devices={exercise.bench.devices} />
              </div>
            ),
          },
          {
            key: 'leads',
            label: `Leads (${wires.length})`,
            children: (
              <div className="job-scroll">
                {wires.length === 0 ? (
                  <p className="quiet">
                    No lead yet. Click a terminal, then another one; or type KM1 13 &gt; S2 13 above the
                    board.
                  </p>
                ) : (
                  <ol className="lead-list">
                    {wires.map((wire, k) => (
                      <li key={k} data-selected={selected === k ? 'yes' : undefined}>
                        <button
                          type="button"
                          className="lead-pick"
                          aria-pressed={selected === k}
                          onClick={() =>
                            store.actions.patch({
                              selected: selected === k ? null : k,
                              from: null,
                              moving: null,
                            })
                          }
                        >
                          <span className="swatch" style={{ background: leadColour(wire.colour).paint }} />
                          <span className="mono">
                            {wire.from.replace(':', ' ')} – {wire.to.replace(':', ' ')}
                          </span>
                        </button>
                        {k < locked ? (
                          <span className="quiet">fitted</span>
                        ) : (
                          <Button
                            size="small"
                            type="text"
                            aria-label={`Remove lead ${wire.from} to ${wire.to}`}
                            onClick={() => store.actions.cut(k)}
                          >
                            Remove
                          </Button>
                        )}
                      </li>
                    ))}
                  </ol>
                )}
              </div>
            ),
          },
        ]}
      />
      <footer>
        <Popconfirm
          title="Hand in this board?"
          description="It is marked at once and cannot be changed afterwards."
          okText="Hand in"
          cancelText="Keep wiring"
          onConfirm={onHandIn}
          disabled={busy}
        >
          <Button type="primary" block loading={busy}>
            Hand in
          </Button>
        </Popconfirm>
      </footer>
    </aside>
  );
}
