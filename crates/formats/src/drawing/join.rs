//! Joining open lines end to end into closed outlines.

use std::collections::HashMap;

use kurbo::Point;
use windrift_core::art::clean::DrawnAs;
use windrift_core::ground::outline::{Contour, bounds_of};

use crate::drawing::{FileError, Lines, Opened, by_area, counted};

/// Ends nearer together than this are the same point, mm.
const JOIN_MM: f64 = 0.2;

/// Joins what is open, keeps what closes.
pub(super) fn close(lines: Lines) -> Result<Opened, FileError> {
    let Lines {
        closed,
        open,
        mut not_used,
        drawn: last,
        ..
    } = lines;
    if closed.is_empty() && open.is_empty() {
        let why = not_used
            .first()
            .cloned()
            .unwrap_or_else(|| "Draw the outline as one closed line.".into());
        return Err(FileError::NoLines(why));
    }
    let (joined, left) = join(open);
    // Lines that were joined are a path of their own.
    let joined = (last.path + 1..)
        .zip(joined)
        .map(|(path, (drawn, c))| (DrawnAs { path, ..drawn }, c));
    let outlines: Vec<(DrawnAs, Contour)> = closed
        .into_iter()
        .chain(joined)
        .map(|(drawn, c)| (drawn, tidy(c)))
        .filter(|(_, c)| c.len() >= 3 && bounds_of(c.iter().copied()).area() > 1.0)
        .collect();
    if outlines.is_empty() {
        // The run that comes nearest to closing tells where to look.
        let gap = |run: &Vec<Point>| match (run.first(), run.last()) {
            (Some(a), Some(b)) => a.distance(*b),
            _ => f64::INFINITY,
        };
        let longest = left
            .iter()
            .filter(|run| run.len() > 2)
            .max_by(|a, b| length(a).total_cmp(&length(b)));
        return Err(
            match longest.and_then(|run| run.last().map(|end| (gap(run), *end))) {
                Some((gap_mm, end)) => FileError::NotClosed {
                    gap_mm,
                    x: end.x,
                    y: end.y,
                },
                None => FileError::NoLines(
                    "Its lines do not meet. Draw the outline as one closed line.".into(),
                ),
            },
        );
    }
    if !left.is_empty() {
        not_used.push(format!(
            "{} left out: nothing closes there.",
            counted(left.len(), "open line was", "open lines were")
        ));
    }
    let (drawn, outlines) = by_area(outlines).into_iter().unzip();
    Ok(Opened {
        outlines,
        drawn,
        not_used,
    })
}

fn length(run: &[Point]) -> f64 {
    run.windows(2).map(|p| p[0].distance(p[1])).sum()
}

/// Points that coincide are one; the last is not the first again.
fn tidy(mut contour: Contour) -> Contour {
    contour.dedup_by(|a, b| a.distance(*b) < 1e-4);
    while contour.len() > 1
        && contour
            .first()
            .zip(contour.last())
            .is_some_and(|(a, b)| a.distance(*b) < JOIN_MM)
    {
        contour.pop();
    }
    contour
}

/// A run with how its path is drawn.
type Run = (DrawnAs, Vec<Point>);

/// Joins runs whose ends meet. Returns the closed ones, each with its colour where all its runs are of one, and what is left open.
fn join(runs: Vec<Run>) -> (Vec<Run>, Vec<Vec<Point>>) {
    let mut runs: Vec<Option<Run>> = (runs.into_iter())
        .filter(|(_, r)| r.len() > 1)
        .map(Some)
        .collect();
    let cell = |p: Point| {
        (
            (p.x / JOIN_MM).floor() as i64,
            (p.y / JOIN_MM).floor() as i64,
        )
    };
    // Ends by cell of a grid, so that only near ones are compared.
    let mut ends: HashMap<(i64, i64), Vec<usize>> = HashMap::new();
    for (n, run) in runs.iter().enumerate() {
        for end in (run.iter())
            .flat_map(|(_, r)| [r.first(), r.last()])
            .flatten()
        {
            ends.entry(cell(*end)).or_default().push(n);
        }
    }
    let mut closed = Vec::new();
    let mut left = Vec::new();
    for n in 0..runs.len() {
        let Some((mut drawn, mut run)) = runs[n].take() else {
            continue;
        };
        let mut turned = false;
        while let (Some(first), Some(last)) = (run.first().copied(), run.last().copied()) {
            if run.len() > 2 && first.distance(last) < JOIN_MM {
                closed.push((std::mem::take(&mut drawn), run));
                run = Vec::new();
                break;
            }
            let (cx, cy) = cell(last);
            let near = (-1..=1).flat_map(|dx| (-1..=1).map(move |dy| (cx + dx, cy + dy)));
            let next = near
                .filter_map(|c| ends.get(&c))
                .flatten()
                .copied()
                .find_map(|m| {
                    let (_, other) = runs.get(m)?.as_ref()?;
                    let (a, b) = (*other.first()?, *other.last()?);
                    if a.distance(last) < JOIN_MM {
                        Some((m, false))
                    } else if b.distance(last) < JOIN_MM {
                        Some((m, true))
                    } else {
                        None
                    }
                });
            match next.and_then(|(m, backwards)| runs[m].take().map(|r| (r, backwards))) {
                Some(((own, mut other), backwards)) => {
                    drawn.fill = drawn.fill.filter(|f| own.fill.as_ref() == Some(f));
                    if backwards {
                        other.reverse();
                    }
                    run.extend(other.into_iter().skip(1));
                }
                // Nothing at this end: the other end may go on.
                None if !turned => {
                    run.reverse();
                    turned = true;
                }
                None => break,
            }
        }
        if !run.is_empty() {
            left.push(run);
        }
    }
    (closed, left)
}

#[cfg(test)]
mod tests {
    use super::*;
    use windrift_core::ground::outline::signed_area;

    fn line(points: &[(f64, f64)]) -> Vec<Point> {
        points.iter().map(|p| Point::new(p.0, p.1)).collect()
    }

    fn opened(open: Vec<Vec<Point>>) -> Result<Opened, FileError> {
        close(Lines {
            open: open
                .into_iter()
                .map(|run| (DrawnAs::default(), run))
                .collect(),
            ..Lines::default()
        })
    }

    #[test]
    fn lines_in_any_order_and_direction_close() {
        let sides = vec![
            line(&[(100.0, 0.0), (0.0, 0.0)]),
            line(&[(0.0, 50.0), (100.05, 50.0)]),
            line(&[(0.0, 0.0), (0.0, 50.0)]),
            line(&[(100.0, 0.0), (100.0, 50.0)]),
            line(&[(500.0, 500.0), (600.0, 500.0)]),
        ];
        let opened = opened(sides);
        assert!(
            opened.as_ref().is_ok_and(|o| o.outlines.len() == 1
                && (signed_area(&o.outlines[0]).abs() - 5000.0).abs() < 10.0)
        );
        assert!(
            opened.is_ok_and(|o| o.not_used == ["1 open line was left out: nothing closes there."])
        );
    }

    #[test]
    fn a_gap_is_told_with_its_place() {
        let gap = opened(vec![line(&[
            (0.0, 0.0),
            (100.0, 0.0),
            (100.0, 50.0),
            (3.0, 50.0),
        ])]);
        assert!(
            matches!(gap, Err(FileError::NotClosed { gap_mm, .. }) if (gap_mm - 50.0899).abs() < 0.01)
        );
        assert!(matches!(opened(vec![]), Err(FileError::NoLines(_))));
    }
}
