package form

import (
	"time"

	"smolder/internal/core/when"
)

// Span is the written form of a [when.Span].
type Span struct {
	From int64 `json:"from"`
	To   int64 `json:"to"`
}

// SpanOf writes one.
func SpanOf(v when.Span) Span {
	return Span{
		From: int64(v.From),
		To:   int64(v.To),
	}
}

// Core is what it was written from.
func (f Span) Core() when.Span {
	return when.Span{
		From: time.Duration(f.From),
		To:   time.Duration(f.To),
	}
}
