import type { Locator } from '@playwright/test';

/**
 * Works a page as a person does, and counts how long that takes somebody: the keystroke-level model of
 * S. K. Card, T. P. Moran and A. Newell, The keystroke-level model for user performance time with interactive
 * systems, Communications of the ACM 23 (1980). Seconds: a key of an average typist, pointing, a click of the
 * mouse's button (pressed and let go), the hand's way between mouse and keyboard, and thinking before each act.
 */
const KEY = 0.28;
const POINT = 1.1;
const CLICK = 0.2;
const HOME = 0.4;
const THINK = 1.35;

export class Hand {
  seconds = 0;
  acts = 0;
  private isAtKeys = false;

  async click(target: Locator): Promise<void> {
    await target.click();
    this.seconds += THINK + (this.isAtKeys ? HOME : 0) + POINT + CLICK;
    this.isAtKeys = false;
    this.acts += 1;
  }

  /** Points at a field and types into it. */
  async type(target: Locator, text: string): Promise<void> {
    await this.click(target);
    await target.fill(text);
    this.seconds += HOME + KEY * text.length;
    this.isAtKeys = true;
  }
}
