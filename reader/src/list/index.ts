/** Everything of readers who have an account, in a chunk of its own. */
export { Entry } from './Entry';
export { KeepPanel } from './KeepPanel';
export { ListPage } from './ListPage';
export { SignIn } from './SignIn';
export { listWords, loadListWords } from './words';
