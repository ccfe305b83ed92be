import { useMemo, useState } from 'react';
import { Input } from 'antd';
import { useSearchParams } from 'react-router';
import type { Person } from '@contactum/contract';
import { KeyList } from './KeyList.js';
import { found } from './chapters.js';
import { CHAPTERS } from './manual.js';
import './help.css';

/** Which manual a person most likely wants. */
const OWN = { student: 'Students', instructor: 'Instructors', administrator: 'Administrators' } as const;

/** The manuals, searchable, without a network too. */
export function HelpPage({ person }: { person: Person }) {
  const [params, setParams] = useSearchParams();
  const [sought, setSought] = useState('');
  const hits = useMemo(() => found(CHAPTERS, sought), [sought]);
  const own = CHAPTERS.find(({ manual }) => manual === OWN[person.role]);
  const asked = params.get('chapter');
  const chapter = hits.find(({ id }) => id === asked) ?? (sought ? hits[0] : (own ?? hits[0]));
  const manuals = [...new Set(hits.map(({ manual }) => manual))];
  return (
    <main className="page help-page">
      <aside>
        <h1>Help</h1>
        <Input.Search
          allowClear
          aria-label="Search the manuals"
          placeholder="Search"
          value={sought}
          onChange={({ target }) => setSought(target.value)}
        />
        <nav aria-label="Chapters">
          {manuals.map((manual) => (
            <section key={manual}>
              <h2>{manual}</h2>
              <ul>
                {hits
                  .filter((one) => one.manual === manual)
                  .map(({ id, title }) => (
                    <li key={id}>
                      <button
                        type="button"
                        aria-current={id === chapter?.id ? 'page' : undefined}
                        onClick={() => setParams({ chapter: id })}
                      >
                        {title === manual ? 'Before you begin' : title}
                      </button>
                    </li>
                  ))}
              </ul>
            </section>
          ))}
          {hits.length === 0 && <p className="quiet">No chapter matches. Try another word.</p>}
        </nav>
      </aside>
      {chapter && (
        <article className="help-chapter" aria-label={chapter.title}>
          <h2>{chapter.title}</h2>
          {/* The manuals are this application's own files. */}
          <div dangerouslySetInnerHTML={{ __html: chapter.html }} />
          {chapter.title === 'At the Bench' && <KeyList />}
        </article>
      )}
    </main>
  );
}
