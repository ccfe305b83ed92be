import { Button } from 'antd';
import type { KeptSheet } from '../api/kept.js';
import { smallPhoto } from './photo.js';
import { useToasts } from '../shell/toasts.js';

/** A photograph of the board, kept with the sheet. */
export function PhotoPart({
  photo,
  onPhoto,
}: {
  photo: KeptSheet['photo'];
  onPhoto: (photo: KeptSheet['photo']) => void;
}) {
  const message = useToasts();
  return (
    <div className="sheet-photo">
      <label className="sheet-field">
        <span>Photograph of the board</span>
        <input
          type="file"
          accept="image/*"
          capture="environment"
          onChange={({ target }) => {
            const file = target.files?.[0];
            if (file)
              smallPhoto(file)
                .then(onPhoto)
                .catch((error: unknown) => message.error((error as Error).message));
          }}
        />
      </label>
      {photo && (
        <>
          <img src={`data:${photo.type};base64,${photo.base64}`} alt="The board as it was photographed" />
          <Button onClick={() => onPhoto(null)}>Remove</Button>
        </>
      )}
    </div>
  );
}
