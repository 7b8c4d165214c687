package presence

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestPinOf(t *testing.T) {
	for version, want := range map[string]Pin{
		"": Unsaid, "latest": Floating, "main": Floating, "*": Floating, "1.2.3": Exact, "v1.2": Exact, "==1.2": Exact, "=1.2.3": Exact,
		"^1.2": Range, "3": Range, "v4": Range, "==3": Exact, "20240101": Exact, "~> 1.2": Range, ">=1,<2": Range, "1.x": Range, "0123456789abcdef0123456789abcdef01234567": Exact, "3.0.0-alpha.8": Exact,
	} {
		assert.Equal(t, want, PinOf(version), version)
	}
}

func TestAgrees(t *testing.T) {
	for _, c := range []struct {
		a, b   string
		agrees bool
	}{
		{"1.2.3", "v1.2.3", true},
		{"1.2.3", "1.2.4", false},
		{"1.59", "v1.59.1", true},
		{"1.58", "v1.59.1", false},
		{"3.0.0-alpha.8", "3.0.0-alpha.9", false},
		{"3.0.0", "3.0.0-alpha.9", false},
		{"3.0.0+build", "3.0.0", true},
		{"^3.0.0", "3.2.1", true},
		{"^3.0.0", "2.8.8", false},
		{"^0.2.1", "0.3.0", false},
		{"^0.2.1", "0.2.9", true},
		{"~1.2.0", "1.2.9", true},
		{"~1.2.0", "1.3.0", false},
		{"~> 1.2", "1.9.0", true},
		{"~> 1.2.0", "1.3.0", false},
		{">=23.1,<24", "23.9.1", true},
		{">=23.1,<24", "24.1.0", false},
		{">= 1.0", "0.9", false},
		{"^2 || ^3", "3.1.0", true},
		{"^2 || ^3", "4.1.0", false},
		{"latest", "3.1.0", true},
		{"", "3.1.0", true},
		{"something odd", "3.1.0", true},
		{"^1", "^2", true},
		{"1.x", "2.0.0", false},
	} {
		assert.Equal(t, c.agrees, Agrees(c.a, c.b), "%s %s", c.a, c.b)
		assert.Equal(t, c.agrees, Agrees(c.b, c.a), "%s %s", c.b, c.a)
	}
}

func TestBefore(t *testing.T) {
	assert.True(t, Before("v1.50.1", "2.0"))
	assert.True(t, Before("^1.9", "2"))
	assert.False(t, Before("2.0.0", "2.0"))
	assert.False(t, Before("latest", "2.0"))
	assert.False(t, Before("", "2.0"))
}

func TestCompareVersions(t *testing.T) {
	versions := []string{"0.100", "0.84", "10.0", "2.0", "0.9"}
	slices.SortFunc(versions, CompareVersions)
	assert.Equal(t, []string{"0.9", "0.84", "0.100", "2.0", "10.0"}, versions)
}
