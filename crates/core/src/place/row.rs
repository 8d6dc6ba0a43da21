//! A row of pieces with equal gaps: between two edges, with things between that they keep off.

/// Where each piece of a row begins, from the row's beginning, with the least difference between its largest and its smallest gap.
///
/// `widths` are the pieces' from the front, `length` the room, `keep_outs` what lies between (from, to), sorted or not. Gaps are
/// those between neighbours and to both ends; a keep-out within a gap counts as part of it. Positions are exact; the difference is
/// least to within `step`. `None` where the pieces do not fit.
///
/// ```
/// # use windrift_core::place::row::equal_gaps;
/// // Three of 100 in 600: 75 between them and at both ends.
/// assert_eq!(equal_gaps(&[100.0; 3], 600.0, &[], 1.0), Some(vec![75.0, 250.0, 425.0]));
/// // No room, no answer.
/// assert_eq!(equal_gaps(&[400.0, 400.0], 600.0, &[], 1.0), None);
/// ```
pub fn equal_gaps(
    widths: &[f64],
    length: f64,
    keep_outs: &[(f64, f64)],
    step: f64,
) -> Option<Vec<f64>> {
    let free = length - widths.iter().sum::<f64>();
    if widths.is_empty() || free < 0.0 {
        return None;
    }
    let even = free / (widths.len() as f64 + 1.0);
    let blocked = merged(keep_outs);
    let fits = |least: f64, most: f64| place(widths, length, &blocked, least, most);
    if let Some(places) = fits(even, even) {
        return Some(places);
    }
    // For each least gap the smallest largest gap is found by halving; the least gaps are tried on a grid of `step`.
    let mut best: Option<(f64, Vec<f64>)> = None;
    let steps = (even / step).ceil() as u32;
    for n in 0..=steps {
        let least = (even - f64::from(n) * step).max(0.0);
        // A smaller least gap cannot win once its distance from the even gap alone is more than the best difference.
        if best
            .as_ref()
            .is_some_and(|(difference, _)| even - least >= *difference)
        {
            break;
        }
        let mut high = best
            .as_ref()
            .map_or(length, |(difference, _)| least + difference);
        let Some(mut places) = fits(least, high) else {
            continue;
        };
        let mut low = even;
        while high - low > step / 16.0 {
            let middle = (low + high) / 2.0;
            match fits(least, middle) {
                Some(found) => {
                    places = found;
                    high = middle;
                }
                None => low = middle,
            }
        }
        let difference = spread(widths, length, &places);
        if best.as_ref().is_none_or(|(known, _)| difference < *known) {
            best = Some((difference, places));
        }
    }
    best.map(|(_, places)| places)
}

/// Largest gap less smallest gap.
pub fn spread(widths: &[f64], length: f64, places: &[f64]) -> f64 {
    let mut end = 0.0;
    let (mut least, mut most) = (f64::INFINITY, f64::NEG_INFINITY);
    for (at, width) in places.iter().zip(widths) {
        least = least.min(at - end);
        most = most.max(at - end);
        end = at + width;
    }
    most.max(length - end) - least.min(length - end)
}

fn merged(keep_outs: &[(f64, f64)]) -> Vec<(f64, f64)> {
    let mut sorted: Vec<(f64, f64)> = keep_outs
        .iter()
        .map(|(a, b)| (a.min(*b), a.max(*b)))
        .collect();
    sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut merged: Vec<(f64, f64)> = Vec::new();
    for (a, b) in sorted {
        match merged.last_mut() {
            Some(last) if a <= last.1 => last.1 = last.1.max(b),
            _ => merged.push((a, b)),
        }
    }
    merged
}

type Spans = Vec<(f64, f64)>;
/// Rounding room, mm.
const SLACK: f64 = 1e-7;

/// Places the pieces with every gap between `least` and `most`, or finds that it cannot be done: the set of places that each
/// piece can take follows from that of the piece before it, and is walked back from the last.
fn place(
    widths: &[f64],
    length: f64,
    blocked: &[(f64, f64)],
    least: f64,
    most: f64,
) -> Option<Vec<f64>> {
    let mut reachable: Vec<Spans> = Vec::with_capacity(widths.len());
    let mut ends: Spans = vec![(0.0, 0.0)];
    for width in widths {
        let mut starts: Spans = ends.iter().map(|(a, b)| (a + least, b + most)).collect();
        starts = without(&union(starts), blocked, *width, length);
        if starts.is_empty() {
            return None;
        }
        ends = starts.iter().map(|(a, b)| (a + width, b + width)).collect();
        reachable.push(starts);
    }
    // From the rear: the last gap within bounds, then each piece within its reach of the next.
    let mut low = length - most;
    let mut high = length - least;
    let mut places = vec![0.0; widths.len()];
    for n in (0..widths.len()).rev() {
        let wanted = (low + high) / 2.0 - widths[n];
        let at = reachable[n]
            .iter()
            .filter_map(|(a, b)| {
                let (a, b) = (
                    a.max(low - widths[n] - SLACK),
                    b.min(high - widths[n] + SLACK),
                );
                (a <= b).then(|| wanted.clamp(a, b))
            })
            .min_by(|a, b| (a - wanted).abs().total_cmp(&(b - wanted).abs()))?;
        places[n] = at;
        low = at - most;
        high = at - least;
    }
    Some(places)
}

fn union(mut spans: Spans) -> Spans {
    spans.sort_by(|a, b| a.0.total_cmp(&b.0));
    let mut joined: Spans = Vec::new();
    for (a, b) in spans {
        match joined.last_mut() {
            Some(last) if a <= last.1 => last.1 = last.1.max(b),
            _ => joined.push((a, b)),
        }
    }
    joined
}

/// Starts at which a piece of this width lies on no keep-out and within the room.
fn without(starts: &Spans, blocked: &[(f64, f64)], width: f64, length: f64) -> Spans {
    let mut free: Spans = starts
        .iter()
        .map(|(a, b)| (a.max(0.0), b.min(length - width + SLACK)))
        .filter(|(a, b)| a <= b)
        .collect();
    for (from, to) in blocked {
        free = free
            .into_iter()
            .flat_map(|(a, b)| [(a, b.min(from - width)), (a.max(*to), b)])
            .filter(|(a, b)| a <= b)
            .collect();
    }
    union(free)
}
