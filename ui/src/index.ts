export { Button, TextButton } from './Button';
export { Check, Choice, type Option } from './Choice';
export { Dialog } from './Dialog';
export { Field, PasswordField } from './Field';
export { Progress, StateMark, TimeBar, type StateTone } from './Marks';
export { Banner, Empty, Line, Loading, Panel, Row, Section, Stack } from './Surface';
export { Heading, Text } from './Text';
export { border, colour, font, measure, radius, space, type, WIDE } from './tokens';
