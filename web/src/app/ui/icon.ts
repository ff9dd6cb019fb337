import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { DomSanitizer } from '@angular/platform-browser';
import add from '@material-symbols/svg-400/outlined/add.svg';
import back from '@material-symbols/svg-400/outlined/arrow_back.svg';
import copy from '@material-symbols/svg-400/outlined/content_copy.svg';
import dark from '@material-symbols/svg-400/outlined/dark_mode.svg';
import del from '@material-symbols/svg-400/outlined/delete.svg';
import edit from '@material-symbols/svg-400/outlined/edit.svg';
import fit from '@material-symbols/svg-400/outlined/fit_screen.svg';
import folder from '@material-symbols/svg-400/outlined/folder.svg';
import group from '@material-symbols/svg-400/outlined/group.svg';
import help from '@material-symbols/svg-400/outlined/help.svg';
import history from '@material-symbols/svg-400/outlined/history.svg';
import light from '@material-symbols/svg-400/outlined/light_mode.svg';
import pick from '@material-symbols/svg-400/outlined/arrow_selector_tool.svg';
import pause from '@material-symbols/svg-400/outlined/pause.svg';
import play from '@material-symbols/svg-400/outlined/play_arrow.svg';
import redo from '@material-symbols/svg-400/outlined/redo.svg';
import repeat from '@material-symbols/svg-400/outlined/repeat.svg';
import undo from '@material-symbols/svg-400/outlined/undo.svg';
import download from '@material-symbols/svg-400/outlined/download.svg';
import upload from '@material-symbols/svg-400/outlined/upload.svg';
import search from '@material-symbols/svg-400/outlined/search.svg';
import shown from '@material-symbols/svg-400/outlined/visibility.svg';
import source from '@material-symbols/svg-400/outlined/first_page.svg';
import larger from '@material-symbols/svg-400/outlined/zoom_in.svg';
import smaller from '@material-symbols/svg-400/outlined/zoom_out.svg';
import fold from '@material-symbols/svg-400/outlined/unfold_less.svg';
import unfold from '@material-symbols/svg-400/outlined/unfold_more.svg';
import menu from '@material-symbols/svg-400/outlined/menu.svg';
import guide from '@material-symbols/svg-400/outlined/menu_book.svg';
import remark from '@material-symbols/svg-400/outlined/chat_bubble.svg';
import close from '@material-symbols/svg-400/outlined/close.svg';

const ICONS = {
  menu,
  guide,
  add,
  back,
  copy,
  dark,
  del,
  edit,
  fit,
  folder,
  help,
  light,
  pause,
  pick,
  play,
  redo,
  repeat,
  undo,
  download,
  upload,
  close,
  history,
  remark,
  share: group,
  search,
  shown,
  larger,
  smaller,
  fold,
  unfold,
  source,
};
export type IconName = keyof typeof ICONS;
export const ICON_NAMES = Object.keys(ICONS) as readonly IconName[];

/** A symbol from the shipped set; always beside or inside something that has a name. */
@Component({
  selector: 'uni-icon',
  template: '',
  host: { '[innerHTML]': 'svg()', 'aria-hidden': 'true', class: 'icon-host' },
  styles: `
    :host {
      display: inline-flex;
      width: 18px;
      height: 18px;
    }
    :host ::ng-deep svg {
      width: 18px;
      height: 18px;
      fill: currentcolor;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Icon {
  readonly name = input.required<IconName>();
  private readonly sanitizer = inject(DomSanitizer);
  // The texts are constants of the build.
  protected readonly svg = computed(() => this.sanitizer.bypassSecurityTrustHtml(ICONS[this.name()]));
}
