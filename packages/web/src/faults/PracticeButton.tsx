import { Button, Dropdown } from 'antd';
import { useNavigate } from 'react-router';
import { DEGREES, DEGREE_WORDS, type Degree } from '@contactum/core';
import { usePractice } from '../api/queries.js';
import { useToasts } from '../shell/toasts.js';

/** Practice in finding faults on a board, at a chosen degree; another one each time. */
export function PracticeButton({ exerciseId }: { exerciseId: string }) {
  const practice = usePractice();
  const navigate = useNavigate();
  const toast = useToasts();
  const begin = (degree: Degree) =>
    practice.mutate(
      { exerciseId, degree },
      {
        onSuccess: ({ id }) => void navigate(`/search/${id}`),
        onError: (error) => void toast.error(error.message),
      },
    );
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: DEGREES.map((degree) => ({ key: degree, label: `${degree}: ${DEGREE_WORDS[degree]}` })),
        onClick: ({ key }) => begin(Number(key) as Degree),
      }}
    >
      <Button size="small" type="text" className="practice-button" loading={practice.isPending}>
        Practise fault finding …
      </Button>
    </Dropdown>
  );
}
