import { InputNumber } from 'antd';
import type { SheetCheck } from '@contactum/core';
import { withEntry } from './entries.js';
import { Choice, type PartProps } from './parts.js';
import { Told } from './Told.js';

const HEADINGS: Readonly<Record<SheetCheck['part'], string>> = {
  safety: 'Safety',
  rules: 'House rules',
  workmanship: 'Workmanship',
};
/** Answered by other parts of the sheet. */
const ANSWERED: ReadonlySet<string> = new Set(['dead-test', 'permission']);

/** Settings as they were read; safety, rules and workmanship kept or broken. */
export function ChecksPart({ sheet, entries, enter }: PartProps) {
  return (
    <>
      {sheet.settings.length > 0 && (
        <>
          <h2>Settings</h2>
          <ol className="sheet-rows">
            {sheet.settings.map(({ tag, name, setting, unit, right }) => {
              const key = `${tag}.${setting}`;
              return (
                <li key={key}>
                  <span className="sheet-what">
                    <strong>
                      {tag} {setting}
                    </strong>
                    <span className="quiet">
                      {name}, right: {right} {unit}
                    </span>
                  </span>
                  <span className="sheet-entry">
                    <InputNumber
                      size="large"
                      aria-label={`${key} reads`}
                      suffix={unit}
                      value={entries.settings[key] ?? null}
                      onChange={(value) => {
                        enter({ settings: withEntry(entries.settings, key, value) });
                      }}
                    />
                  </span>
                </li>
              );
            })}
          </ol>
        </>
      )}
      {(['safety', 'rules', 'workmanship'] as const).map((part) => (
        <Checks key={part} part={part} sheet={sheet} entries={entries} enter={enter} />
      ))}
    </>
  );
}

function Checks({ part, sheet, entries, enter }: PartProps & { part: SheetCheck['part'] }) {
  const own = sheet.checks.filter((one) => one.part === part && !ANSWERED.has(one.id));
  if (own.length === 0) return null;
  return (
    <>
      <h2>{HEADINGS[part]}</h2>
      <ol className="sheet-rows">
        {own.map(({ id, title, how, points }) => {
          const key = `${part}/${id}`;
          const kept = entries.checks[key];
          return (
            <li key={key} data-right={kept === undefined ? undefined : kept ? 'yes' : 'no'}>
              <span className="sheet-what">
                <strong>{title}</strong>
                <span className="quiet">
                  {how} {points} points
                </span>
              </span>
              <span className="sheet-entry">
                <Choice
                  label={title}
                  value={kept === undefined ? null : kept ? 'kept' : 'broken'}
                  options={[
                    ['kept', 'kept'],
                    ['broken', 'broken'],
                  ]}
                  onChange={(value) => enter({ checks: { ...entries.checks, [key]: value === 'kept' } })}
                />
                <Told right={kept ?? null} />
              </span>
            </li>
          );
        })}
      </ol>
    </>
  );
}
