import { useState } from 'react';
import { useNavigate } from 'react-router';
import { sentenceOf, useCreateProjectMutation } from '../../state/api.ts';
import { useServices } from '../../state/services.ts';
import type { Incoming } from '../../state/uploadManager.ts';

/** Makes a project and opens it, with files that come into it where there are some. */
export function useNewProject(): {
  make: (name: string, incoming?: Incoming[]) => void;
  isBusy: boolean;
  trouble: string | null;
} {
  const [create, { isLoading }] = useCreateProjectMutation();
  const navigate = useNavigate();
  const { uploads } = useServices();
  const [trouble, setTrouble] = useState<string | null>(null);
  const make = (name: string, incoming: Incoming[] = []): void => {
    setTrouble(null);
    create({ name })
      .unwrap()
      .then((project) => {
        if (incoming.length > 0) uploads.add(project.id, incoming);
        return navigate(`/projects/${project.id}`);
      })
      .catch((error: unknown) => setTrouble(sentenceOf(error)));
  };
  return { make, isBusy: isLoading, trouble };
}
