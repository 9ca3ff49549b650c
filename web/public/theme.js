// Before the first paint, so that a dark room is not lit up by a white page.
document.documentElement.dataset.theme = localStorage.getItem('theme') ?? 'system'
