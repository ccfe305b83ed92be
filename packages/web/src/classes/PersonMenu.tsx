import { Button, Dropdown, Modal, type MenuProps } from 'antd';
import type { FirstPassword } from '@contactum/contract';
import { usePeopleHands } from '../api/college.js';
import { useToasts } from '../shell/toasts.js';

/**
 * What the entries of a menu work with: a question before something is done, and what is told where it
 * fails.
 */
interface MenuHands {
  readonly confirm: ReturnType<typeof Modal.useModal>[0]['confirm'];
  readonly failed: (error: Error) => void;
}

/** What may be done with a person: with the account, and what else the page offers. */
export function PersonMenu({
  id,
  name,
  onPassword,
  more,
}: {
  id: string;
  name: string;
  onPassword: (password: FirstPassword) => void;
  more: (hands: MenuHands) => NonNullable<MenuProps['items']>;
}) {
  const { reset, end } = usePeopleHands();
  const message = useToasts();
  const [{ confirm }, dialogs] = Modal.useModal();
  const failed = (error: Error) => void message.error(error.message);
  const items: MenuProps['items'] = [
    {
      key: 'reset',
      label: 'Give a first password',
      onClick: () => reset.mutate(id, { onSuccess: onPassword, onError: failed }),
    },
    {
      key: 'end',
      label: 'Sign out everywhere',
      onClick: () =>
        end.mutate(id, {
          onSuccess: ({ ended }) => void message.success(`${ended} sessions ended.`),
          onError: failed,
        }),
    },
    ...more({ confirm, failed }),
  ];
  return (
    <>
      <Dropdown menu={{ items }} trigger={['click']}>
        <Button size="small" aria-label={`What to do with ${name}`}>
          …
        </Button>
      </Dropdown>
      {dialogs}
    </>
  );
}
