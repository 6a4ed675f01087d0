// Sets the theme before the first paint.
document.documentElement.dataset.theme = localStorage.getItem("theme") === "night" ? "night" : "paper";
