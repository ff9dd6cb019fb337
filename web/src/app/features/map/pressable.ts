import { Directive, output } from '@angular/core';

/** Something of a drawing that is pressed like a button: with the pointer, Enter or Space. */
@Directive({
  selector: '[uniPress]',
  host: {
    role: 'button',
    tabindex: '0',
    '(click)': 'uniPress.emit($event)',
    '(keydown.enter)': 'uniPress.emit($any($event))',
    '(keydown.space)': 'uniPress.emit($any($event)); $event.preventDefault()',
  },
})
export class Pressable {
  readonly uniPress = output<MouseEvent | KeyboardEvent>();
}
