// Before the first paint, so that a dark room is not lit up by a white page. A shared page is nobody's: it goes by the system.
if (!location.pathname.startsWith('/shared/'))
  document.documentElement.dataset.theme = localStorage.getItem('theme') ?? 'system'
