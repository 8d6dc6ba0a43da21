//! A line of quick words cut up: into words with where they stand, and into what is understood and what is not.

use serde::Serialize;

/// A stretch of the line, understood or not.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct Part {
    /// As it was typed.
    pub text: String,
    /// Whether it was understood.
    pub understood: bool,
}

/// The line cut where what is understood begins and ends.
pub(super) fn parts(line: &str, missed: &[(usize, usize)]) -> Vec<Part> {
    let mut parts = Vec::new();
    let mut at = 0;
    let mut push = |from: usize, to: usize, understood: bool| {
        if from < to {
            parts.push(Part {
                text: line[from..to].to_owned(),
                understood,
            });
        }
    };
    for &(from, to) in missed {
        push(at, from, true);
        push(from, to, false);
        at = to;
    }
    push(at, line.len(), true);
    parts
}

/// A word of the line with where it stands. What is quoted is one word.
#[derive(Debug, Clone)]
pub(super) struct Word {
    pub text: String,
    pub from: usize,
    pub to: usize,
    pub quoted: bool,
}

/// The words from a byte of the line on.
pub(super) fn words(line: &str, begin: usize) -> Vec<Word> {
    let mut words: Vec<Word> = Vec::new();
    let mut quoted: Option<usize> = None;
    let mut from: Option<usize> = None;
    let quote = |c: char| matches!(c, '"' | '\u{201c}' | '\u{201d}');
    let mut end = |from: &mut Option<usize>, to: usize| {
        if let Some(start) = from.take() {
            words.push(Word {
                text: line[start..to].to_lowercase(),
                from: start,
                to,
                quoted: false,
            });
        }
    };
    let mut found: Vec<Word> = Vec::new();
    for (n, c) in line.char_indices().filter(|(n, _)| *n >= begin) {
        if let Some(start) = quoted {
            if quote(c) {
                found.push(Word {
                    text: line[start..n].to_owned(),
                    from: start,
                    to: n + c.len_utf8(),
                    quoted: true,
                });
                quoted = None;
            }
            continue;
        }
        // A quote behind a figure is an inch mark, not the beginning of a name.
        let after_figure = from.is_some_and(|f| line[f..n].ends_with(|c: char| c.is_ascii_digit()));
        if quote(c) && !after_figure {
            end(&mut from, n);
            quoted = Some(n + c.len_utf8());
        } else if c.is_whitespace() || c == ',' || c == ';' {
            end(&mut from, n);
        } else if from.is_none() {
            from = Some(n);
        }
    }
    if let Some(start) = quoted {
        found.push(Word {
            text: line[start..].to_owned(),
            from: start,
            to: line.len(),
            quoted: true,
        });
    }
    end(&mut from, line.len());
    words.extend(found);
    words.sort_by_key(|w| w.from);
    words
}
