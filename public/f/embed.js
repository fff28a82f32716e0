// <script src="…/f/embed.js" data-form="code" async></script> puts a form where it stands, as high as it is.
(() => {
  const script = document.currentScript;
  const { form, title = 'Sign up' } = script.dataset;
  const base = new URL(script.src);
  const frame = document.createElement('iframe');
  frame.src = new URL(`/f/${encodeURIComponent(form)}`, base).href;
  frame.title = title;
  frame.style.cssText = 'display:block;width:100%;height:40rem;border:0';
  script.after(frame);
  window.addEventListener('message', ({ source, origin, data }) => {
    if (source !== frame.contentWindow || origin !== base.origin || data?.form !== form) return;
    if (data.height > 0) frame.style.height = `${Math.ceil(data.height)}px`;
  });
})();
