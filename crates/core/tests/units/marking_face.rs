//! `marking::face` by itself.

use windrift_core::marking::face::beyond;
use windrift_core::marking::face::*;

fn within(o: &Obstacle, back: f64, height: f64) -> bool {
    (o.back_mm.0..=o.back_mm.1).contains(&back) && (o.height_mm.0..=o.height_mm.1).contains(&height)
}

/// Every point outside the outline lies in what is beyond it, and no point well inside does.
#[test]
fn what_lies_beyond_a_bent_outline_covers_its_outside_and_nothing_inside() {
    // A hopper: 3 m along its upper edge, 1.5 m below; with an arch cut out of its foot.
    let arch = (0..=20).map(|n| {
        let t = std::f64::consts::PI * f64::from(n) / 20.0;
        (1500.0 + 300.0 * t.cos(), 500.0 + 300.0 * t.sin())
    });
    let mut outline: Vec<(f64, f64)> = vec![(0.0, 1700.0), (3000.0, 1700.0), (2250.0, 500.0)];
    outline.extend(arch);
    outline.push((750.0, 500.0));
    let inside = |back: f64, height: f64| {
        let rake = 750.0 * (1700.0 - height) / 1200.0;
        back > rake && back < 3000.0 - rake && (back - 1500.0).hypot(height - 500.0) > 300.0
    };
    let found = beyond(&[outline], (0.0, 3000.0), (500.0, 1700.0));
    for n in 0..60 {
        for m in 0..40 {
            let (back, height) = (25.0 + f64::from(n) * 50.0, 515.0 + f64::from(m) * 29.5);
            let out = found.iter().any(|o| within(o, back, height));
            // Within a band the narrowest counts: a band's height may be lost, never more.
            let well_inside = [-30.0, 0.0, 30.0].iter().all(|dx| {
                [-30.0, 0.0, 30.0]
                    .iter()
                    .all(|dy| inside(back + dx, height + dy))
            });
            assert!(inside(back, height) || out, "{back} {height}");
            assert!(!(well_inside && out), "{back} {height}");
        }
    }
    // A plain rectangle has nothing beyond it.
    let plain = vec![(0.0, 0.0), (900.0, 0.0), (900.0, 400.0), (0.0, 400.0)];
    assert!(beyond(&[plain], (0.0, 900.0), (0.0, 400.0)).is_empty());
}
