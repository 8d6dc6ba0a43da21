//! Colours: how far they lie apart, and which film is meant by what was drawn.

use windrift_core::ground::colour::{USUAL_FILMS, difference, film_like};

/// Two colours, and how far they lie apart.
const APART: [(&str, &str, f64); 13] = [
    ("#ff0000", "#8c1d18", 23.2106),
    ("#ffffff", "#f4f1e6", 5.8833),
    ("#000000", "#1a1a1a", 5.5229),
    ("#000000", "#ffffff", 100.0000),
    ("#0000ff", "#23405c", 18.2092),
    ("#ffd400", "#b8860b", 22.0706),
    ("#008000", "#14524d", 27.7387),
    ("#c0c0c0", "#f4f1e6", 12.3976),
    ("#800080", "#5b3f7a", 12.4754),
    ("#333333", "#1a1a1a", 7.8999),
    ("#003366", "#23405c", 6.0651),
    ("#7f7f80", "#80807f", 1.2695),
    ("#00ffff", "#ff00ff", 57.9844),
];

/// CIEDE2000 between colours of sRGB, worked out by scikit-image's `deltaE_ciede2000` over `rgb2lab` to four places
/// (`tools/reference/colours.py`).
#[test]
fn colours_lie_as_far_apart_as_they_are_seen() {
    for (a, b, theirs) in APART {
        let ours = difference(a, b).unwrap();
        assert!(
            (ours - theirs).abs() < 0.01,
            "{a} {b}: {ours} against {theirs}"
        );
        assert!((ours - difference(b, a).unwrap()).abs() < 1e-3);
    }
    assert_eq!(difference("#8c1d18", "#8c1d18"), Some(0.0));
    assert_eq!(difference("red", "#8c1d18"), None);
}

/// Common practice, no source: what somebody draws in a screen's plain colours is meant for the film that has that name.
#[test]
fn plain_screen_colours_find_the_film_that_is_meant() {
    let usual = || USUAL_FILMS.iter().map(|(value, _)| *value);
    let name = |drawn| {
        let film = film_like(drawn, usual())?;
        USUAL_FILMS.iter().find(|f| f.0 == film).map(|f| f.1)
    };
    for (drawn, meant) in [
        ("#ff0000", Some("signal red")),
        ("#ffffff", Some("white")),
        ("#000000", Some("black")),
        ("#000080", Some("harbour blue")),
        ("#14524d", Some("spruce")),
        // Nothing here is meant by a plain green, magenta or grey.
        ("#00a000", None),
        ("#ff00ff", None),
        ("#808080", None),
    ] {
        assert_eq!(name(drawn), meant, "{drawn}");
    }
}
