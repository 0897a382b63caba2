/** What the office's app shows of the reading room, fetched as one when it is looked at. */
export { MessageView } from './MessageView';
export { Sight } from './Sight';
