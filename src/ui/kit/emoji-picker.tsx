'use client';
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { EmojiPicker as Picker } from 'frimousse';

/** Emoji by name and by kind. */
export function EmojiPicker({ onPick }: { onPick(emoji: string): void }) {
  return (
    <Popover className="relative">
      <PopoverButton className="button px-2 py-0.5 text-sm">emoji</PopoverButton>
      <PopoverPanel
        anchor="bottom start"
        className="z-20 mt-1 border border-soft bg-paper p-2"
        aria-label="Emoji"
      >
        {({ close }) => (
          <Picker.Root
            emojibaseUrl="/emoji"
            columns={9}
            className="flex h-72 w-80 flex-col"
            onEmojiSelect={({ emoji }) => (close(), onPick(emoji))}
          >
            <Picker.Search className="input mb-2 py-1!" aria-label="Search an emoji" placeholder="comet" />
            <Picker.Viewport className="relative flex-1 overflow-y-auto">
              <Picker.Loading className="text-sm text-soft">Loading …</Picker.Loading>
              <Picker.Empty className="text-sm text-soft">None is called so.</Picker.Empty>
              <Picker.List
                components={{
                  CategoryHeader: ({ category, ...props }) => (
                    <div {...props} className="bg-paper py-1 text-sm text-soft">
                      {category.label}
                    </div>
                  ),
                  Emoji: ({ emoji, ...props }) => (
                    <button
                      {...props}
                      style={{ ...props.style, fontFamily: 'inherit' }}
                      className={`size-8 rounded-sm text-lg ${emoji.isActive ? 'bg-paper-2 outline-2 outline-accent' : ''}`}
                    >
                      {emoji.emoji}
                    </button>
                  ),
                }}
              />
            </Picker.Viewport>
          </Picker.Root>
        )}
      </PopoverPanel>
    </Popover>
  );
}
