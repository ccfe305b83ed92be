import { useState } from 'react';
import {
  ClockCircleOutlined,
  EyeInvisibleOutlined,
  EyeOutlined,
  PauseCircleOutlined,
} from '@ant-design/icons';
import { Alert, Button, Tooltip } from 'antd';
import { Link } from 'react-router';
import { takeOver, usePulse } from '../api/assessments.js';
import { useSecondsLeft } from './use-clock.js';
import { minutesAndSeconds } from './words.js';
import './assessments.css';

const HIDDEN_KEY = 'contactum.hide-clock';
/** Left of the time when the countdown is shown although it is hidden, seconds. */
const LAST = 120;

/** Over a task of an assessment: how much time is left, and the way back to the other tasks. */
export function SittingBar({ assessmentId }: { assessmentId: string }) {
  const pulse = usePulse(assessmentId, true);
  const { data } = pulse;
  if (data?.isElsewhere) return <Elsewhere />;
  if (data?.isOther) return <OtherWindow assessmentId={assessmentId} />;
  return (
    <div className="sitting-bar" role="region" aria-label="Assessment">
      <Link to={`/sit/${assessmentId}`}>All tasks</Link>
      {data?.ended && <span className="sitting-over">The time is over: your work is handed in.</span>}
      {data && !data.ended && <Countdown clock={data} />}
      {pulse.isError && (
        <span className="sitting-over">
          No connection: what you do is kept here, and sent when it is back.
        </span>
      )}
    </div>
  );
}

/** Says that this machine is none of those on which the assessment is sat. */
const Elsewhere = () => (
  <Alert
    type="error"
    showIcon
    banner
    title="This assessment can only be taken from the allowed addresses. Work on this computer is not accepted."
  />
);

/** Says that another window works, and takes the assessment over into this one. */
function OtherWindow({ assessmentId }: { assessmentId: string }) {
  const pulse = usePulse(assessmentId, false);
  return (
    <Alert
      type="warning"
      showIcon
      banner
      title="This assessment was opened in another window, which works now."
      action={
        <Button
          size="small"
          onClick={() => {
            takeOver(assessmentId);
            void pulse.refetch().then(() => window.location.reload());
          }}
        >
          Work here
        </Button>
      }
    />
  );
}

/** Tells the server that a window of the assessment is open; says where another one works. */
export function Presence({ assessmentId }: { assessmentId: string }) {
  const { data } = usePulse(assessmentId, true);
  if (data?.isElsewhere) return <Elsewhere />;
  return data?.isOther ? <OtherWindow assessmentId={assessmentId} /> : null;
}

/** The time that is left; it can be put out of sight, until the last two minutes. */
export function Countdown({ clock }: { clock: Parameters<typeof useSecondsLeft>[0] }) {
  const left = useSecondsLeft(clock);
  const [isHidden, setHidden] = useState(() => localStorage.getItem(HIDDEN_KEY) === 'yes');
  if (left === null) return null;
  const isPaused = Boolean(clock?.pausedAt);
  const shows = !isHidden || left < LAST;
  const toggle = () => {
    localStorage.setItem(HIDDEN_KEY, isHidden ? 'no' : 'yes');
    setHidden(!isHidden);
  };
  const words = isHidden ? 'Show the time' : 'Hide the time';
  return (
    <span className="countdown" data-last={left < LAST && !isPaused ? 'yes' : undefined}>
      {isPaused ? <PauseCircleOutlined /> : <ClockCircleOutlined />}
      {isPaused && <strong>Paused</strong>}
      {shows && <span className="mono">{minutesAndSeconds(left)} left</span>}
      <Tooltip title={words}>
        <Button
          type="text"
          size="small"
          aria-label={words}
          icon={isHidden ? <EyeOutlined /> : <EyeInvisibleOutlined />}
          onClick={toggle}
        />
      </Tooltip>
    </span>
  );
}
