export { FeedPart } from './FeedPart.tsx';
