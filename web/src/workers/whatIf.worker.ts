import { whatIf, type IfTask } from './whatIf.ts';

self.addEventListener('message', (event: MessageEvent<{ id: number; task: IfTask }>) =>
  self.postMessage({ id: event.data.id, answer: whatIf(event.data.task) }),
);
