import { expect } from 'chai';
import { KEYMAP, keysText, pressed, type Shortcut } from './keymap.ts';

const press = (key: string, held: Partial<Record<'ctrlKey' | 'metaKey' | 'shiftKey' | 'altKey', boolean>> = {}) => ({
  key,
  ctrlKey: false,
  metaKey: false,
  shiftKey: false,
  altKey: false,
  ...held,
});

describe('the keymap', () => {
  it('gives each key to one thing', () => {
    const keys = Object.values(KEYMAP).map((shortcut) => shortcut.keys);
    expect(new Set(keys).size).to.equal(keys.length);
    for (const [name, shortcut] of Object.entries(KEYMAP)) expect(shortcut.id).to.equal(name);
  });

  it('takes none that browsers keep for themselves', () => {
    const kept = [
      'Mod+T',
      'Mod+N',
      'Mod+W',
      'Mod+Shift+T',
      'Mod+Shift+N',
      'Mod+Tab',
      'Mod+L',
      'F1',
      'F3',
      'F5',
      'F6',
      'F7',
      'F11',
      'F12',
    ];
    const taken = Object.values<Shortcut>(KEYMAP).filter(({ keys }) => kept.includes(keys));
    expect(taken).to.deep.equal([]);
  });

  it('knows a key press with exactly what is held', () => {
    expect(pressed(press('z', { ctrlKey: true }), KEYMAP.undo)).to.equal(true);
    expect(pressed(press('z', { metaKey: true }), KEYMAP.undo)).to.equal(true);
    expect(pressed(press('Z', { ctrlKey: true, shiftKey: true }), KEYMAP.undo)).to.equal(false);
    expect(pressed(press('Z', { ctrlKey: true, shiftKey: true }), KEYMAP.redo)).to.equal(true);
    expect(pressed(press('z'), KEYMAP.undo)).to.equal(false);
    expect(pressed(press('ArrowUp', { altKey: true }), KEYMAP.nudgeUp)).to.equal(true);
  });

  it('is written as people read it', () => {
    expect(keysText(KEYMAP.redo)).to.equal('Ctrl Shift Z');
    expect(keysText(KEYMAP.nudgeDown)).to.equal('Alt Down');
  });
});
