package present

import (
	"bytes"
	"encoding/json"
	"io"
	"path"
	"slices"
	"strings"

	"jollytreaty/core/assign"
	"jollytreaty/core/audit"
	"jollytreaty/core/claim"
	"jollytreaty/core/conflict"
	"jollytreaty/core/document"
	"jollytreaty/core/evidence"
	"jollytreaty/core/rule"
	"jollytreaty/core/settle"
)

type object = map[string]any

func write(w io.Writer, v any) error { return writeJSON(w, v, "  ") }

// WriteJSON prints a value as one line of JSON.
func WriteJSON(w io.Writer, v any) error { return writeJSON(w, v, "") }

func writeJSON(w io.Writer, v any, indent string) error {
	var text bytes.Buffer
	e := json.NewEncoder(&text)
	e.SetIndent("", indent)
	e.SetEscapeHTML(false)
	if err := e.Encode(v); err != nil {
		return err
	}
	_, err := w.Write(escapes(text.Bytes()))
	return err
}

// AuditJSON prints the audit as one object. The findings are those given, so
// that a command may show a part.
func AuditJSON(w io.Writer, root string, r *audit.Result, findings []*conflict.Finding) error {
	types, programs, found := []object{}, []object{}, []object{}
	for _, t := range r.Types {
		types = append(types, typeObject(t))
	}
	for _, p := range r.Programs {
		seen := []object{}
		for _, s := range p.Seen {
			o := reasonObject("as", s)
			for key, text := range map[string]string{"version": s.Version, "when": s.When.String(), "does": s.Does.String()} {
				if text != "" {
					o[key] = text
				}
			}
			seen = append(seen, o)
		}
		programs = append(programs, object{"program": p.Entry.ID, "roles": p.Entry.Roles, "seen": seen})
	}
	for _, f := range findings {
		found = append(found, findingObject(f))
	}
	n := conflict.Count(findings)
	summary := map[string]int{"errors": n.Errors, "warnings": n.Warnings, "notes": n.Notes, "waived": n.Waived}
	return write(w, object{
		"format": "jolly-treaty/audit", "version": 1,
		"repository": object{"root": root, "files": len(r.Picture.Tree.Files)},
		"file_types": types, "settings_files": fileObjects(r), "programs": programs,
		"findings": found, "summary": summary,
	})
}

func typeObject(t audit.TypeSummary) object {
	candidates := []object{}
	for _, c := range t.Candidates {
		candidates = append(candidates, candidateObject(c))
	}
	o := object{"type": t.Type.ID, "name": t.Type.Name, "files": t.Files, "status": t.Status, "formatter": nil, "candidates": candidates}
	if t.Formatter != nil {
		o["formatter"] = t.Formatter.ID
	}
	if len(t.Regions) > 1 {
		regions := []object{}
		for _, region := range t.Regions {
			part := object{"formatter": nil, "files": region.Files}
			if region.Formatter != nil {
				part["formatter"] = region.Formatter.ID
			}
			regions = append(regions, part)
		}
		o["regions"] = regions
	}
	return o
}

func candidateObject(c assign.Candidate) object {
	coverage := "full"
	if c.Part != "" {
		coverage = "partial"
	}
	reasons := []object{}
	for _, s := range c.Reasons {
		reason := reasonObject("as", s)
		delete(reason, "as")
		reason["why"] = assign.Why(s)
		reasons = append(reasons, reason)
	}
	return object{"program": c.Program.ID, "coverage": coverage, "reasons": reasons}
}

func reasonObject(key string, s claim.Seen) object {
	o := object{key: s.As.As()}
	if s.Path != "" {
		o["path"] = s.Path
	}
	if s.Line > 0 {
		o["line"] = s.Line
	}
	return o
}

// fileObjects lists the settings files, and files that look like some.
func fileObjects(r *audit.Result) []object {
	files := []object{}
	for _, f := range r.Picture.Files {
		files = append(files, fileObject(r, f))
	}
	for _, l := range r.Picture.Lost {
		if !slices.ContainsFunc(r.Picture.Files, func(f *claim.File) bool { return f.Path == l.Path }) {
			files = append(files, object{"path": l.Path, "programs": []string{l.Program.ID}, "syntax": "unknown", "status": "misplaced", "governs": 0})
		}
	}
	for _, path := range r.Picture.Unread {
		files = append(files, object{"path": path, "programs": []string{}, "syntax": "unknown", "status": "unread", "governs": 0})
	}
	slices.SortStableFunc(files, func(a, b object) int { return strings.Compare(a["path"].(string), b["path"].(string)) })
	return files
}

func fileObject(r *audit.Result, f *claim.File) object {
	var programs []string
	for _, e := range r.ReadersOf(f) {
		programs = append(programs, e.ID)
	}
	syntax := document.Ignores
	if !f.Readers[0].Ignores {
		syntax = f.Readers[0].Place.SyntaxOf(path.Base(f.Path))
	}
	if f.Doc != nil {
		syntax = f.Doc.Syntax
	}
	return object{"path": f.Path, "programs": programs, "syntax": syntax, "status": statusOf(r, f), "governs": f.Governs}
}

func findingObject(f *conflict.Finding) object {
	claims := []object{}
	for _, s := range f.Sides {
		claims = append(claims, sideObject(s))
	}
	examples := f.Examples
	if examples == nil {
		examples = []string{}
	}
	o := object{
		"id": f.ID, "cause": f.Cause, "code": f.Code, "severity": f.Severity, "files": f.Files,
		"examples": examples, "message": f.Message, "claims": claims,
	}
	if f.Rule != nil {
		o["rule"] = f.Rule.ID
	}
	if f.Type != nil {
		o["type"] = f.Type.ID
	}
	if len(f.Evidence) > 0 {
		shares := object{}
		for _, w := range f.Evidence {
			shares[w.Value.String()] = rounded(w.Share)
		}
		o["evidence"] = shares
	}
	if f.Proposal != nil {
		o["proposal"] = object{"value": f.Proposal.Value, "because": f.Proposal.Because}
	}
	if f.Waived != nil {
		w := object{"reason": f.Waived.Reason}
		if !f.Waived.Until.IsZero() {
			w["until"] = f.Waived.Until.Format("2006-01-02")
		}
		o["waived"] = w
	}
	return o
}

func sideObject(s conflict.Side) object {
	o := object{"program": s.Program}
	if s.Role != "" {
		o["role"] = s.Role
	}
	if s.Value != nil {
		o["value"] = s.Value
	}
	if s.AtMost {
		o["limit"] = "at_most"
	}
	if s.Basis != "" {
		o["basis"] = s.Basis
	}
	if s.Path != "" {
		o["path"] = s.Path
	}
	if s.Line > 0 {
		o["line"], o["column"] = s.Line, max(s.Column, 1)
	}
	return o
}

// ExplainJSON prints what holds for one file.
func ExplainJSON(w io.Writer, x *audit.Explanation) error { return write(w, explainObject(x)) }

// ExplainSeveralJSON prints what holds for several files as one object.
func ExplainSeveralJSON(w io.Writer, list []*audit.Explanation) error {
	files := []object{}
	for _, x := range list {
		files = append(files, explainObject(x))
	}
	return write(w, object{"format": "jolly-treaty/explanations", "version": 1, "files": files})
}

func explainObject(x *audit.Explanation) object {
	rules := []object{}
	for _, e := range x.Rules {
		claims := []object{}
		for _, c := range e.Claims {
			claims = append(claims, claimObject(c))
		}
		o := object{"rule": e.Rule.ID, "value": e.Value, "claims": claims}
		if x.Facts != nil {
			if has, answer := x.Facts.Value(e.Rule.ID); answer == evidence.Told {
				o["in_file"] = has
			}
		}
		if e.DecidedBy != nil {
			decided := claimObject(e.DecidedBy)
			for _, key := range []string{"value", "role", "column", "limit"} {
				delete(decided, key)
			}
			o["decided_by"] = decided
		}
		rules = append(rules, o)
	}
	o := object{"format": "jolly-treaty/explain", "version": 1, "file": x.File.Path, "type": x.File.Type.ID, "formatter": nil, "rules": rules}
	if x.Verdict.Formatter != nil {
		o["formatter"] = x.Verdict.Formatter.Program.ID
	}
	idle := []object{}
	for _, i := range x.Idle {
		one := object{"path": i.Path, "why": i.Why}
		if i.Line > 0 {
			one["line"] = i.Line
		}
		idle = append(idle, one)
	}
	o["without_effect"] = idle
	return o
}

func claimObject(c *claim.Claim) object {
	o := object{"program": c.Program.ID, "role": c.Role, "basis": c.Basis}
	if !c.Value.IsZero() {
		o["value"] = c.Value
	}
	if c.Role == rule.Accepts && c.Question.AtMost {
		o["limit"] = "at_most"
	}
	if line, column := c.Where.Position(); line > 0 {
		o["path"], o["line"], o["column"] = c.Where.Path(), line, column
	}
	if c.Beaten != nil {
		line, _ := c.Beaten.Where.Position()
		o["beaten_by"] = object{"path": c.Beaten.Where.Path(), "line": line}
	}
	return o
}

// SettlementJSON prints a plan.
func SettlementJSON(w io.Writer, plan *settle.Plan) error {
	assignments, decisions, edits, open := []object{}, []object{}, []object{}, []object{}
	for _, a := range plan.Assignments {
		o := object{"type": a.Type.ID, "formatter": a.Formatter.ID, "because": a.Because}
		if a.Paths != nil {
			o["paths"] = a.Paths
		}
		if a.Leaving != nil {
			o["leaving"] = a.Leaving
		}
		assignments = append(assignments, o)
	}
	for _, d := range plan.Decisions {
		settles := d.Settles
		if settles == nil {
			settles = []string{}
		}
		o := object{"type": d.Type.ID, "rule": d.Rule.ID, "value": d.Value, "because": d.Because,
			"files": d.Files, "files_touched": nil, "settles": settles}
		if d.Touched >= 0 {
			o["files_touched"] = d.Touched
		}
		if d.Paths != nil {
			o["paths"] = d.Paths
		}
		decisions = append(decisions, o)
	}
	for _, e := range plan.Edits {
		edits = append(edits, object{"path": e.Path, "action": e.Action, "patch": Patch(e)})
	}
	for _, l := range plan.LeftOpen {
		open = append(open, object{"finding": l.Finding.ID, "why": l.Why})
	}
	return write(w, object{"format": "jolly-treaty/settlement", "version": 1,
		"assignments": assignments, "decisions": decisions, "edits": edits, "left_open": open})
}
