/** How a message travels. What each needs to know about a person is an address of its own. */
export type Channel = 'sms' | 'chat' | 'voicemail' | 'email';
