//! A feature read from quick words.

use crate::ground::tape::{Unit, parse_signed};
use crate::vehicle::body::readings::parse_readings;
use crate::vehicle::feature::Feature;
use crate::vehicle::feature::kind::{ComesOff, FeatureKind};
use crate::vehicle::quick::line::{Part, Word, parts, words};
use crate::vehicle::quick::said::{Pitch, Said};
use crate::vehicle::quick::words::{COLOURS, FUNCTIONS, OPEN, kind_at, stays_called};
use crate::vehicle::side::Side;
use crate::vehicle::start::features::{FormKind, forms_of};

/// What a line of quick words was understood as.
#[derive(Debug, Clone, PartialEq)]
pub struct Quick {
    /// The feature as far as the line goes; nothing where no kind is named.
    pub feature: Option<Feature>,
    /// The line in its order, every character of it.
    pub parts: Vec<Part>,
    /// What is not understood and what to type instead; nothing where all of it is.
    pub sentence: Option<String>,
}

/// Longest line that is read, characters.
pub const LONGEST: usize = 2_000;

/// Most words that one length is written in: `4' 6 1/2"`, `16 ft 6 in`.
const WORDS_OF_A_LENGTH: usize = 4;

/// Reads a line of quick words for a side. What is left out is as it usually is: a pitch without a count goes on to the end of the side,
/// a size is that of a new feature of its kind.
///
/// Never fails: what is not understood is told apart, and the feature is read from the rest.
///
/// ```
/// # use windrift_core::ground::tape::Unit;
/// # use windrift_core::vehicle::{body::Body, feature::form::Form, quick::read, side::{Side, words::SideKind}, surface::Surface};
/// # let body = Body::Box { length_mm: 7315.2.into(), height_mm: 2438.4.into(), fall_mm: 0.0.into() };
/// # let side = Side::new(SideKind::Left, body, Surface::default());
/// let quick = read("seam every 48", &side, Unit::InchSixteenth);
/// let Form::Upright { first_mm, count, .. } = quick.feature.unwrap().form else { panic!() };
/// // 24 ft: at 4, 8, 12, 16 and 20 ft; the sixth would be the rear edge itself.
/// assert_eq!((first_mm.mm(), count), (1219.2, 5));
/// assert!(read("seam evry 48", &side, Unit::InchSixteenth).sentence.unwrap().contains("\u{201c}evry\u{201d}"));
/// ```
pub fn read(line: &str, side: &Side, unit: Unit) -> Quick {
    let line: String = line.chars().take(LONGEST).collect();
    let begin = line.len() - line.trim_start().len();
    let Some((kind, named)) = kind_at(&line[begin..]) else {
        let empty = line.trim().is_empty();
        return Quick {
            feature: None,
            sentence: Some(if empty {
                "Say what it is, then where: rivets 46 3/4 every 4' x5, 6 down every 3 x13 head 3/8.".to_owned()
            } else {
                "Begin with what it is: rivets, seam, door, lamp, handle, recess. Tab completes it."
                    .to_owned()
            }),
            parts: vec![Part {
                text: line,
                understood: empty,
            }],
        };
    };
    let mut reader = Reader {
        words: words(&line, begin + named),
        line: &line,
        at: 0,
        unit,
        kind,
        side,
        said: Said {
            called: stays_called(&line[begin..begin + named]),
            ..Said::default()
        },
        missed: Vec::new(),
    };
    reader.run();
    let missed = std::mem::take(&mut reader.missed);
    let feature = reader.said.feature(kind, side, unit);
    let first = missed.first().map(|&(from, to)| line[from..to].to_owned());
    Quick {
        feature: Some(feature),
        sentence: first.map(|word| {
            format!("\u{201c}{word}\u{201d} is not understood behind {}. Take it out or say it another way; ? lists the words.", kind.names().0)
        }),
        parts: parts(&line, &missed),
    }
}

struct Reader<'a> {
    line: &'a str,
    words: Vec<Word>,
    at: usize,
    unit: Unit,
    kind: FeatureKind,
    side: &'a Side,
    said: Said,
    missed: Vec<(usize, usize)>,
}

impl Reader<'_> {
    /// The longest length that begins here, and how many words it takes.
    fn length_at(&self, at: usize) -> Option<(f64, usize)> {
        (1..=WORDS_OF_A_LENGTH.min(self.words.len().saturating_sub(at)))
            .rev()
            .find_map(|n| {
                let words = &self.words[at..at + n];
                // A comma between them ends a length.
                let run = words
                    .windows(2)
                    .all(|w| self.line[w[0].to..w[1].from].trim().is_empty());
                if !run || words.iter().any(|w| w.quoted) {
                    return None;
                }
                let text = &self.line[words.first()?.from..words.last()?.to];
                parse_signed(text, self.unit).ok().map(|mm| (mm, n))
            })
    }

    fn length(&mut self) -> Option<f64> {
        let (mm, n) = self.length_at(self.at)?;
        self.at += n;
        Some(mm)
    }

    /// Steps over these words if they stand here.
    fn is(&mut self, words: &str) -> bool {
        let wanted: Vec<&str> = words.split(' ').collect();
        let here = self.words.get(self.at..self.at + wanted.len());
        let found = here.is_some_and(|h| {
            h.iter()
                .zip(&wanted)
                .all(|(w, x)| !w.quoted && w.text == *x)
        });
        if found {
            self.at += wanted.len();
        }
        found
    }

    fn quoted(&mut self) -> Option<String> {
        let word = self.words.get(self.at)?;
        let text = self.line[word.from..word.to].trim_end_matches(['"', '\u{201c}', '\u{201d}']);
        self.at += 1;
        Some(text.trim().to_owned())
    }

    /// `x5`, `x 5` or `5 times` at this place.
    fn count(&mut self) -> Option<u32> {
        let word = self.words.get(self.at)?;
        let digits = word.text.strip_prefix(['x', '\u{d7}'])?;
        if !digits.is_empty() {
            let n = digits.parse().ok()?;
            self.at += 1;
            return Some(n);
        }
        let n = self.words.get(self.at + 1)?.text.parse().ok()?;
        self.at += 2;
        Some(n)
    }

    fn run(&mut self) {
        while let Some(word) = self.words.get(self.at).cloned() {
            if !self.step() {
                // With its quote: of a lone one that is all there is.
                let quote = self.line[..word.from].chars().next_back();
                let quote = quote.filter(|_| word.quoted).map_or(0, char::len_utf8);
                self.missed.push((word.from - quote, word.to));
                self.at += 1;
            }
        }
        if let Some(bare) = self.said.bare.take() {
            self.said.back.get_or_insert(bare);
        }
    }

    /// Takes what stands here. Whether it was understood.
    fn step(&mut self) -> bool {
        if let Some(mm) = self.length() {
            return self.measured(mm);
        }
        if self.is("every") {
            return self.pitch();
        }
        if self.is("rows") {
            self.is("every");
            let Some(mm) = self.length() else {
                return false;
            };
            self.said.rows.every = Some(mm);
            self.said.downwards = true;
            return self.counted();
        }
        if let Some(count) = self.count() {
            self.pitched().count = Some(count);
            return true;
        }
        if self.is("to its middle") {
            self.said.middle = true;
            return true;
        }
        if self.is("to") {
            self.said.to = Some((None, None));
            return true;
        }
        for (word, closed) in [("along", false), ("outline", true)] {
            if self.is(word) {
                return self.path(closed);
            }
        }
        self.told() || self.named()
    }

    fn pitched(&mut self) -> &mut Pitch {
        if self.said.downwards {
            &mut self.said.rows
        } else {
            &mut self.said.along
        }
    }

    fn counted(&mut self) -> bool {
        if let Some(count) = self.count() {
            self.pitched().count = Some(count);
        }
        true
    }

    fn pitch(&mut self) -> bool {
        if let Some(bare) = self.said.bare.take() {
            self.said.back.get_or_insert(bare);
        }
        let Some(mm) = self.length() else {
            return false;
        };
        // Heads go down where the last place was down; everything else is repeated along.
        if forms_of(self.kind) != [FormKind::Heads] {
            self.said.downwards = false;
        }
        self.pitched().every = Some(mm);
        self.counted()
    }

    /// A length, and the word behind it that says what it is.
    fn measured(&mut self, mm: f64) -> bool {
        if self.is("back") {
            self.said.downwards = false;
            match &mut self.said.to {
                Some((back, _)) => *back = Some(mm),
                None => self.said.back = Some(mm),
            }
        } else if self.is("down") {
            self.said.downwards = true;
            if let Some(bare) = self.said.bare.take() {
                self.said.back.get_or_insert(bare);
            }
            match &mut self.said.to {
                Some((_, drop)) => *drop = Some(mm),
                None => self.said.drop = Some(mm),
            }
        } else if self.is("wide") {
            self.said.wide = Some(mm);
        } else if self.is("high") {
            self.said.high = Some(mm);
        } else if self.is("across") {
            self.said.across = Some(mm);
        } else if self.is("deep") {
            self.said.deep = Some(mm);
        } else if let Some(high) = self.by() {
            self.said.wide = Some(mm);
            self.said.high = Some(high);
        } else if self.said.bare.is_none() {
            self.said.bare = Some(mm);
        } else {
            self.at -= 1;
            return false;
        }
        true
    }

    /// `x 40` behind a width: the height.
    fn by(&mut self) -> Option<f64> {
        let word = self.words.get(self.at)?;
        if word.text != "x" && word.text != "\u{d7}" {
            return None;
        }
        let (mm, n) = self.length_at(self.at + 1)?;
        self.at += 1 + n;
        Some(mm)
    }

    fn path(&mut self, closed: bool) -> bool {
        let Some(first) = self.words.get(self.at) else {
            return false;
        };
        let from = first.from;
        // To the last point: what follows a semicolon and does not begin with a figure and a comma is said of something else.
        let rest = &self.line[from..];
        let ends = |after: &str| {
            let back = after.split([',', '\t', ';']).next().unwrap_or_default();
            let is_point = after.find([',', '\t']) == Some(back.len());
            !(is_point && parse_signed(back.trim(), self.unit).is_ok())
        };
        let to = rest
            .match_indices(';')
            .find(|(n, _)| ends(&rest[n + 1..]))
            .map_or(self.line.len(), |(n, _)| from + n);
        let lines = self.line[from..to].replace(';', "\n");
        match parse_readings(&lines, self.unit) {
            Ok(points) if points.len() >= 2 => {
                self.said.path = Some((points, closed));
                while self.words.get(self.at).is_some_and(|w| w.from < to) {
                    self.at += 1;
                }
                true
            }
            _ => false,
        }
    }

    /// A word that stands for itself.
    fn told(&mut self) -> bool {
        if let Some((_, colour)) = COLOURS.iter().find(|(word, _)| self.is(word)) {
            self.said.colour = Some(*colour);
        } else if let Some((_, open)) = OPEN.iter().find(|(word, _)| self.is(word)) {
            self.said.open = Some(*open);
        } else if let Some((_, function)) = FUNCTIONS.iter().find(|(word, _)| self.is(word)) {
            self.said.function = Some(*function);
        } else if self.is("no driver") {
            self.said.driver = Some(false);
        } else if self.is("driver") {
            self.said.driver = Some(true);
        } else if self.is("required") {
            self.said.required = Some(true);
        } else if self.is("extra") {
            self.said.required = Some(false);
        } else if self.is("one way") {
            self.said.compound = Some(false);
        } else if self.is("two ways") {
            self.said.compound = Some(true);
        } else if self.is("stays") {
            self.said.comes_off = Some(ComesOff::Stays);
        } else if self.is("goes back") || self.is("comes off") {
            self.said.comes_off = Some(ComesOff::GoesBack);
        } else if self.is("for good") {
            self.said.comes_off = Some(ComesOff::ForGood);
        } else {
            return false;
        }
        true
    }

    /// A word with what belongs to it behind it.
    fn named(&mut self) -> bool {
        let before = self.at;
        let done = if self.is("head") {
            self.said.head = self.length();
            self.said.head.is_some()
        } else if self.is("rises") {
            self.said.rises = self.length();
            self.said.rises.is_some()
        } else if self.is("keep off") {
            self.said.keep_off = self.length();
            self.said.keep_off.is_some()
        } else if self.is("walls") {
            let degrees = self.words.get(self.at).and_then(|w| w.text.parse().ok());
            self.said.walls = degrees;
            self.at += usize::from(degrees.is_some());
            degrees.is_some()
        } else if self.is("called") {
            self.said.called = self.quoted();
            self.said.called.is_some()
        } else if self.is("note") {
            self.said.note = self.quoted();
            self.said.note.is_some()
        } else if self.is("from") {
            let name = self.quoted().unwrap_or_default().to_lowercase();
            let found = self
                .side
                .references
                .iter()
                .find(|r| r.name.to_lowercase() == name);
            self.said.reference = found.map(|r| r.id);
            found.is_some()
        } else {
            false
        };
        if !done {
            self.at = before;
        }
        done
    }
}
