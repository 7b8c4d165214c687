package filetype

import "jollytreaty/core/scan"

// markupTypes are markup, templates and style sheets, in the order of their ids.
var markupTypes = []Type{
	{ID: "asciidoc", Name: "AsciiDoc", Styled: true, Extensions: []string{".adoc", ".asciidoc"}, Speaks: Explains},
	{ID: "astro", Name: "Astro", Styled: true, Extensions: []string{".astro"}, Forms: markup},
	{ID: "blade", Name: "Blade template", Styled: true, Extensions: []string{".blade.php"}},
	{ID: "cfml", Name: "CFML", Styled: true, Extensions: []string{".cfm", ".cfc", ".cfml"}},
	{
		ID: "css", Name: "CSS", Styled: true, Extensions: []string{".css", ".pcss", ".postcss"},
		Forms: &scan.Language{Blocks: stars, Quotes: []scan.Quote{single, double}}, Traits: &styled,
	},
	{ID: "ejs", Name: "EJS template", Styled: true, Extensions: []string{".ejs"}},
	{ID: "erb", Name: "ERB template", Styled: true, Extensions: []string{".erb", ".rhtml"}},
	{ID: "haml", Name: "Haml", Styled: true, Extensions: []string{".haml"}},
	{ID: "handlebars", Name: "Handlebars template", Styled: true, Extensions: []string{".hbs", ".handlebars"}},
	{
		ID: "html", Name: "HTML", Styled: true, Extensions: []string{".html", ".htm", ".xhtml"},
		Begins: []string{"<!doctype html"}, Forms: markup, Traits: &nested,
	},
	{ID: "jade", Name: "Pug template", Styled: true, Extensions: []string{".pug", ".jade"}},
	{ID: "jinja", Name: "Jinja template", Styled: true, Extensions: []string{".j2", ".jinja", ".jinja2"}},
	{
		ID: "latex", Name: "LaTeX", Styled: true, Extensions: []string{".tex", ".sty", ".dtx", ".ltx"},
		Shared: []Shared{{Extension: ".cls", First: true, Line: `\\(NeedsTeXFormat|ProvidesClass|LoadClass)`, Read: true}},
		Forms:  percent, Traits: &nested,
	},
	{ID: "less", Name: "Less", Styled: true, Extensions: []string{".less"}, Forms: styles, Traits: &styled},
	{ID: "liquid", Name: "Liquid template", Styled: true, Extensions: []string{".liquid"}},
	{
		ID: "markdown", Name: "Markdown", Styled: true, Prose: true,
		Extensions: []string{".md", ".markdown", ".mkd", ".mdown", ".mdwn"}, Speaks: Explains,
	},
	{ID: "mdx", Name: "MDX", Styled: true, Prose: true, Extensions: []string{".mdx"}},
	{ID: "mustache", Name: "Mustache template", Styled: true, Extensions: []string{".mustache"}},
	{ID: "nunjucks", Name: "Nunjucks template", Styled: true, Extensions: []string{".njk"}},
	{ID: "org", Name: "Org", Styled: true, Extensions: []string{".org"}},
	{ID: "razor", Name: "Razor", Styled: true, Extensions: []string{".cshtml", ".razor"}},
	{
		ID: "restructuredtext", Name: "reStructuredText", Styled: true, Extensions: []string{".rst", ".rest"},
		Speaks: Explains,
	},
	{ID: "sass", Name: "Sass (indented)", Styled: true, Extensions: []string{".sass"}},
	{ID: "scss", Name: "SCSS", Styled: true, Extensions: []string{".scss"}, Forms: styles, Traits: &styled},
	{ID: "slim", Name: "Slim template", Styled: true, Extensions: []string{".slim"}},
	{ID: "stylus", Name: "Stylus", Styled: true, Extensions: []string{".styl"}, Forms: styles},
	{ID: "svelte", Name: "Svelte", Styled: true, Extensions: []string{".svelte"}, Forms: markup, Traits: &nested},
	{ID: "templ", Name: "templ", Styled: true, Extensions: []string{".templ"}},
	{ID: "textile", Name: "Textile", Styled: true, Extensions: []string{".textile"}},
	{ID: "tmpl", Name: "Go template", Styled: true, Extensions: []string{".tmpl", ".gotmpl", ".gohtml", ".tpl"}},
	{ID: "twig", Name: "Twig template", Styled: true, Extensions: []string{".twig"}},
	{ID: "typst", Name: "Typst", Styled: true, Extensions: []string{".typ"}},
	{ID: "vue", Name: "Vue", Styled: true, Extensions: []string{".vue"}, Forms: markup, Traits: &nested},
}
