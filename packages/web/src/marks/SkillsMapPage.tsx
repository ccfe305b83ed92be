import { Alert, Spin, Tooltip } from 'antd';
import { interpolateRgb } from 'd3';
import { Link, useParams } from 'react-router';
import { SKILLS } from '@contactum/core';
import { useSkillsMap } from '../api/college.js';
import { standingWords } from './SkillsPage.js';
import './skills.css';

const shade = interpolateRgb('#e9d3cf', '#a9cdb6');

/** How surely everybody of a class has each skill: what to teach again, and to whom. */
export function SkillsMapPage() {
  const { classId = '' } = useParams();
  const map = useSkillsMap(classId);
  if (map.isError) return <Alert className="page" type="error" showIcon title={map.error.message} />;
  if (!map.data) return <Spin className="waiting" />;
  const { className, skills, students } = map.data;
  const meanOf = (k: number): number | null => {
    const known = students.flatMap((one) => one.known[k] ?? []);
    return known.length > 0 ? known.reduce((sum, one) => sum + one, 0) / known.length : null;
  };
  return (
    <main className="page">
      <div className="page-head">
        <h1>Skills of {className}</h1>
        <Link to={`/marks/${classId}`} className="button-link">
          Mark book
        </Link>
      </div>
      <p className="quiet">
        Estimated from the marks of each student in order (Bayesian knowledge tracing): no mark, and only as
        good as the exercises that were set. A dot: nothing has shown it yet.
      </p>
      <div className="skills-map">
        <table>
          <thead>
            <tr>
              <th>Student</th>
              {skills.map((skill) => (
                <th key={skill} className="skill-column">
                  <span>{SKILLS[skill]}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {students.map(({ id, name, known }) => (
              <tr key={id}>
                <th scope="row">
                  <Link to={`/marks/${classId}/${id}`}>{name}</Link>
                </th>
                {skills.map((skill, k) => (
                  <Cell key={skill} what={`${name}: ${SKILLS[skill]}`} known={known[k] ?? null} />
                ))}
              </tr>
            ))}
            <tr className="skills-mean">
              <th scope="row">Class, mean</th>
              {skills.map((skill, k) => (
                <Cell key={skill} what={`The class: ${SKILLS[skill]}`} known={meanOf(k)} />
              ))}
            </tr>
          </tbody>
        </table>
      </div>
    </main>
  );
}

function Cell({ what, known }: { what: string; known: number | null }) {
  if (known === null)
    return (
      <td className="quiet" aria-label={`${what}: no evidence yet`}>
        ·
      </td>
    );
  return (
    <Tooltip title={`${what}: ${standingWords(known)}`}>
      <td className="mono" style={{ background: shade(known) }}>
        {Math.round(100 * known)}
      </td>
    </Tooltip>
  );
}
