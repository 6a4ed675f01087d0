// Sets the theme before the first paint. Where the browser keeps no site data, it is paper.
let theme = null;
try {
  theme = localStorage.getItem("theme");
} catch {}
document.documentElement.dataset.theme = theme === "night" ? "night" : "paper";
