import { useState } from 'react';
import { Alert, Button, Input, Radio, Spin, Tag } from 'antd';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useParams } from 'react-router';
import type { DeepLinkChoice, DeepLinkRequest, ExerciseSummary } from '@contactum/contract';
import { ask } from '../api/client.js';
import { useExercises } from '../api/queries.js';
import { TASK_WORDS } from '../assessments/words.js';
import './doors.css';

/** Chooses what a course of a learning platform links to. */
export function PickPage() {
  const { id = '' } = useParams();
  const { data, error } = useQuery({
    queryKey: ['pick', id],
    queryFn: () => ask<DeepLinkChoice>('GET', `/lti/links/${id}`),
    retry: false,
  });
  if (error)
    return (
      <main className="page">
        <Alert type="warning" showIcon title="This choice has run out. Add from the course once more." />
      </main>
    );
  if (!data) return <Spin className="waiting" aria-label="Opening the choice" />;
  return <Picker id={id} choice={data} />;
}

interface Item {
  readonly key: string;
  readonly field: 'assignmentId' | 'assessmentId' | 'exerciseId';
  readonly value: string;
  readonly title: string;
  /** What it asks for. */
  readonly words: string;
  readonly isSet: boolean;
}

/** What is set to the class, then every other exercise. */
function itemsOf({ set, assessments }: DeepLinkChoice, exercises: readonly ExerciseSummary[]): Item[] {
  const setAlready = new Set(set.map(({ exerciseId }) => exerciseId));
  return [
    ...assessments.map((one): Item => ({
      key: one.id,
      field: 'assessmentId',
      value: one.id,
      title: one.title,
      words: 'assessment',
      isSet: true,
    })),
    ...set.map((one): Item => ({
      key: one.id,
      field: 'assignmentId',
      value: one.id,
      title: one.title,
      words: TASK_WORDS[one.task].toLowerCase(),
      isSet: true,
    })),
    ...exercises
      .filter((one) => !setAlready.has(one.id))
      .map((one): Item => ({
        key: one.id,
        field: 'exerciseId',
        value: one.id,
        title: one.title,
        words: TASK_WORDS[one.task].toLowerCase(),
        isSet: false,
      })),
  ];
}

function Picker({ id, choice }: { id: string; choice: DeepLinkChoice }) {
  const { platform, className } = choice;
  const { data: exercises = [] } = useExercises();
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<string | null>(null);
  const choose = useMutation({
    mutationFn: (body: DeepLinkRequest) => ask('POST', `/lti/links/${id}`, body),
    // A page that goes back to the platform with the answer.
    onSuccess: () => window.location.assign(`/api/lti/links/${id}/answer`),
  });
  const items = itemsOf(choice, exercises);
  const shown = items.filter(({ title }) => title.toLowerCase().includes(text.trim().toLowerCase()));
  const item = items.find(({ key }) => key === chosen);
  return (
    <main className="page pick-page">
      <div className="page-head">
        <div>
          <h1>Add to {className}</h1>
          <p className="quiet">
            {platform} links what you choose. What is not assigned to the class yet is assigned to it now, and
            its recorded marks go into the gradebook of the course.
          </p>
        </div>
      </div>
      <Input.Search
        aria-label="Search exercises"
        placeholder="part of a title"
        allowClear
        value={text}
        onChange={({ target }) => setText(target.value)}
      />
      <Radio.Group
        className="pick-list"
        aria-label="Exercises"
        value={chosen}
        onChange={({ target }) => setChosen(target.value as string)}
      >
        {shown.map(({ key, title, words, isSet }) => (
          <Radio key={key} value={key}>
            {title} <span className="quiet">{words}</span> {isSet && <Tag>assigned</Tag>}
          </Radio>
        ))}
      </Radio.Group>
      {choose.error && <Alert type="error" showIcon title={choose.error.message} />}
      <footer className="pick-foot">
        <Button
          type="primary"
          size="large"
          disabled={!item}
          loading={choose.isPending}
          onClick={() => item && choose.mutate({ [item.field]: item.value } as DeepLinkRequest)}
        >
          {item ? `Add “${item.title}”` : 'Choose what to add'}
        </Button>
      </footer>
    </main>
  );
}
