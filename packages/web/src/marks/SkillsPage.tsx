import { Alert, Spin } from 'antd';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import { MASTERED, SKILLS, plural, type SkillStanding } from '@contactum/core';
import { useSkills } from '../api/college.js';
import './skills.css';

/** What a student's marks have shown that they can do, how surely, and what to practise next. */
export function SkillsPage() {
  const skills = useSkills();
  if (skills.isError) return <Alert className="page" type="error" showIcon title={skills.error.message} />;
  if (!skills.data) return <Spin className="waiting" />;
  const { standings, next } = skills.data;
  return (
    <main className="page skills-page">
      <h1>Skills</h1>
      <p className="quiet">
        Worked out from your marks in order: what you did right makes a skill surer, a slip less so. It is an
        estimate for you and your instructor, and no mark.
      </p>
      {next.length > 0 && (
        <section aria-labelledby="next">
          <h2 id="next">Practise next</h2>
          <ol className="next-skills">
            {next.map(({ exerciseId, title, skills: shown }) => (
              <li key={exerciseId}>
                <Link to={`/exercises?find=${encodeURIComponent(title)}`}>{title}</Link>{' '}
                <span className="quiet">
                  {shown
                    .slice(0, 4)
                    .map((skill) => SKILLS[skill])
                    .join(' · ')}
                </span>
              </li>
            ))}
          </ol>
        </section>
      )}
      <h2>What you have shown</h2>
      <ul className="skills">
        {standings.map((standing) => (
          <Skill key={standing.skill} standing={standing} />
        ))}
      </ul>
    </main>
  );
}

function Skill({ standing: { skill, known, times, right, last, evidence } }: { standing: SkillStanding }) {
  return (
    <li data-mastered={known !== null && known >= MASTERED ? 'yes' : undefined}>
      <span className="skill-name">{SKILLS[skill]}</span>
      <SkillBar known={known} />
      <span>
        {known === null ? (
          <span className="quiet">no evidence yet</span>
        ) : (
          <>
            {standingWords(known)}{' '}
            <span className="quiet">
              right in {right} of {plural(times, 'attempt')}, last {dayjs(last).format('D MMM')}
            </span>
          </>
        )}
      </span>
      <span className="skill-evidence">
        {evidence.map(({ attemptId, exercise, isRight, at }) => (
          <Link key={`${attemptId} ${at}`} to={`/slip/${attemptId}`}>
            {isRight ? '✓' : '✕'} {exercise}
          </Link>
        ))}
      </span>
    </li>
  );
}

/** How surely a skill is known, in words. */
export function standingWords(known: number): string {
  if (known >= MASTERED) return 'secure';
  return known >= 0.7 ? 'nearly secure' : known >= 0.4 ? 'developing' : 'needs practice';
}

/** The same as a bar. */
function SkillBar({ known }: { known: number | null }) {
  return (
    <span className="skill-bar" aria-hidden="true">
      <span style={{ width: `${100 * (known ?? 0)}%` }} />
    </span>
  );
}
