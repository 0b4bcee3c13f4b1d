import { lookThrough, type TraceTask } from './lookThrough.ts';

self.addEventListener('message', (event: MessageEvent<TraceTask>) => self.postMessage(lookThrough(event.data)));
