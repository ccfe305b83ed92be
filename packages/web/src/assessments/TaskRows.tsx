import { ArrowDownOutlined, ArrowUpOutlined, DeleteOutlined, PlusOutlined } from '@ant-design/icons';
import { Button, Checkbox, Input, InputNumber } from 'antd';
import type { AssessmentTaskRequest } from '@contactum/contract';
import { useExercises } from '../api/queries.js';
import { freshCriterion, placed, type PlannedTask } from './plan-store.js';
import { TASK_WORDS } from './words.js';

/** The tasks of an assessment that is being set, in their order. */
export function TaskRows({
  tasks,
  onTasks,
}: {
  tasks: readonly PlannedTask[];
  onTasks: (tasks: readonly PlannedTask[]) => void;
}) {
  const whole = tasks.reduce((sum, { weight }) => sum + weight, 0);
  const change = (k: number, task: PlannedTask) => onTasks(tasks.with(k, task));
  const move = (k: number, by: -1 | 1) => {
    const one = tasks[k];
    const other = tasks[k + by];
    if (one && other) onTasks(tasks.with(k, other).with(k + by, one));
  };
  if (tasks.length === 0)
    return <p className="quiet">No task yet. Add an exercise, or what you will watch.</p>;
  return (
    <ol className="task-rows" aria-label="Tasks">
      {tasks.map((task, k) => (
        <li key={task.key}>
          <TaskRow
            {...{ task, k, whole }}
            isLast={k === tasks.length - 1}
            onTask={(next) => change(k, next)}
            onMove={(by) => move(k, by)}
            onRemove={() => onTasks(tasks.toSpliced(k, 1))}
          />
          {task.kind === 'observed' && <Criteria task={task} onTask={(next) => change(k, next)} />}
        </li>
      ))}
    </ol>
  );
}

interface Moves {
  /** Its place, from 0. */
  readonly k: number;
  readonly isLast: boolean;
  readonly onMove: (by: -1 | 1) => void;
  readonly onRemove: () => void;
}

/** One task: what it is, how much it counts, and its own time. */
function TaskRow({
  task,
  k,
  whole,
  isLast,
  onTask,
  onMove,
  onRemove,
}: Moves & { task: PlannedTask; whole: number; onTask: (task: PlannedTask) => void }) {
  return (
    <div className="task-row">
      <TaskTitle task={task} onTask={onTask} />
      <label>
        <span>Weight</span>
        <InputNumber
          size="small"
          aria-label={`Weight of task ${k + 1}`}
          min={1}
          max={1000}
          value={task.weight}
          onChange={(weight) => onTask({ ...task, weight: weight ?? 1 })}
        />
        <span className="quiet">{Math.round((100 * task.weight) / whole)} %</span>
      </label>
      {task.kind === 'exercise' && !task.physical && (
        <label>
          <span>Own time</span>
          <InputNumber
            size="small"
            aria-label={`Own time of task ${k + 1}`}
            min={1}
            max={600}
            value={task.minutes}
            placeholder="none"
            suffix="min"
            onChange={(minutes) => onTask({ ...task, minutes })}
          />
        </label>
      )}
      <Checkbox
        checked={task.mustPass}
        onChange={({ target }) => onTask({ ...task, mustPass: target.checked })}
      >
        must be passed
      </Checkbox>
      {task.kind === 'exercise' && <PhysicalBox task={task} k={k} onTask={onTask} />}
      {task.kind === 'exercise' && !task.physical && (
        <Checkbox
          checked={task.variants}
          onChange={({ target }) => onTask({ ...task, variants: target.checked })}
        >
          variants
        </Checkbox>
      )}
      <TaskMoves {...{ k, isLast, onMove, onRemove }} />
    </div>
  );
}

/** Whether the task is wired on the physical board; offered for what can be. */
function PhysicalBox({
  task,
  k,
  onTask,
}: {
  task: PlannedTask & { kind: 'exercise' };
  k: number;
  onTask: (task: PlannedTask) => void;
}) {
  const exercises = useExercises();
  const kind = exercises.data?.find(({ id }) => id === task.exerciseId)?.task;
  if (kind === undefined || kind === 'find' || kind === 'answer') return null;
  return (
    <Checkbox
      aria-label={`Task ${k + 1} on the physical board`}
      checked={task.physical}
      onChange={({ target }) => onTask(placed(task, target.checked))}
    >
      physical board
    </Checkbox>
  );
}

function TaskMoves({ k, isLast, onMove, onRemove }: Moves) {
  return (
    <span className="task-moves">
      <Button
        type="text"
        size="small"
        aria-label={`Move task ${k + 1} up`}
        disabled={k === 0}
        icon={<ArrowUpOutlined />}
        onClick={() => onMove(-1)}
      />
      <Button
        type="text"
        size="small"
        aria-label={`Move task ${k + 1} down`}
        disabled={isLast}
        icon={<ArrowDownOutlined />}
        onClick={() => onMove(1)}
      />
      <Button
        type="text"
        size="small"
        aria-label={`Remove task ${k + 1}`}
        icon={<DeleteOutlined />}
        onClick={onRemove}
      />
    </span>
  );
}

function TaskTitle({ task, onTask }: { task: PlannedTask; onTask: (task: PlannedTask) => void }) {
  const exercises = useExercises();
  if (task.kind === 'observed')
    return (
      <span className="task-title">
        <Input
          size="small"
          aria-label="What is observed"
          maxLength={120}
          value={task.title}
          onChange={({ target }) => onTask({ ...task, title: target.value })}
        />
        <span className="quiet">observed at the bench</span>
      </span>
    );
  const exercise = exercises.data?.find(({ id }) => id === task.exerciseId);
  return (
    <span className="task-title">
      <strong>{exercise?.title ?? task.exerciseId}</strong>
      <span className="quiet">{exercise && TASK_WORDS[exercise.task]}</span>
    </span>
  );
}

type Observed = PlannedTask & Extract<AssessmentTaskRequest, { kind: 'observed' }>;

/** What an examiner watches: each criterion with its levels, from the lowest to the highest. */
function Criteria({ task, onTask }: { task: Observed; onTask: (task: Observed) => void }) {
  const change = (k: number, one: Observed['criteria'][number]) =>
    onTask({ ...task, criteria: task.criteria.with(k, one) });
  return (
    <div className="task-criteria">
      {task.criteria.map((criterion, k) => (
        <CriterionRow
          key={k}
          {...{ criterion, k }}
          isOnly={task.criteria.length === 1}
          onCriterion={(next) => change(k, next)}
          onRemove={() => onTask({ ...task, criteria: task.criteria.toSpliced(k, 1) })}
        />
      ))}
      <Button
        size="small"
        icon={<PlusOutlined />}
        disabled={task.criteria.length >= 20}
        onClick={() => onTask({ ...task, criteria: [...task.criteria, freshCriterion()] })}
      >
        Add a criterion
      </Button>
    </div>
  );
}

type Watched = Observed['criteria'][number];

/** One criterion with its levels. */
function CriterionRow({
  criterion,
  k,
  isOnly,
  onCriterion,
  onRemove,
}: {
  criterion: Watched;
  k: number;
  isOnly: boolean;
  onCriterion: (criterion: Watched) => void;
  onRemove: () => void;
}) {
  return (
    <div className="task-criterion">
      <Input
        size="small"
        aria-label={`Criterion ${k + 1}`}
        maxLength={120}
        placeholder="what is watched"
        value={criterion.title}
        onChange={({ target }) => onCriterion({ ...criterion, title: target.value })}
      />
      {criterion.levels.map((level, l) => (
        <LevelFields
          key={l}
          of={`level ${l + 1} of criterion ${k + 1}`}
          level={level}
          onLevel={(next) => onCriterion({ ...criterion, levels: criterion.levels.with(l, next) })}
        />
      ))}
      <Checkbox
        checked={criterion.critical}
        onChange={({ target }) => onCriterion({ ...criterion, critical: target.checked })}
      >
        critical
      </Checkbox>
      <Button
        type="text"
        size="small"
        aria-label={`Remove criterion ${k + 1}`}
        icon={<DeleteOutlined />}
        disabled={isOnly}
        onClick={onRemove}
      />
    </div>
  );
}

type Level = Watched['levels'][number];

function LevelFields({ of, level, onLevel }: { of: string; level: Level; onLevel: (level: Level) => void }) {
  return (
    <span className="task-level">
      <Input
        size="small"
        aria-label={`Name of ${of}`}
        maxLength={60}
        value={level.title}
        onChange={({ target }) => onLevel({ ...level, title: target.value })}
      />
      <InputNumber
        size="small"
        aria-label={`Points of ${of}`}
        min={0}
        max={100}
        value={level.points}
        onChange={(points) => onLevel({ ...level, points: points ?? 0 })}
      />
    </span>
  );
}
