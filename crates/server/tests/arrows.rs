//! The arrows of the house: who imports whom in core, in the server and in the web application. They run one way and never in a
//! circle; an arrow that should not be is named with both ends.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use petgraph::algo::tarjan_scc;
use petgraph::graphmap::DiGraphMap;
use syn::visit::{self, Visit};
use windrift_testkit::project;

type Arrows = BTreeMap<String, BTreeSet<String>>;

fn files(folder: &Path, kinds: &[&str]) -> Vec<PathBuf> {
    let mut found = Vec::new();
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            found.extend(files(&path, kinds));
        } else if path
            .extension()
            .is_some_and(|e| kinds.contains(&e.to_str().unwrap()))
        {
            found.push(path);
        }
    }
    found.sort();
    found
}

/// `place/spots/mod.rs` is `place::spots`, `lib.rs` is the empty name.
fn module_of(file: &Path) -> String {
    let mut parts: Vec<&str> = file.iter().map(|p| p.to_str().unwrap()).collect();
    let last = parts.pop().unwrap().trim_end_matches(".rs");
    if !["mod", "lib", "main"].contains(&last) {
        parts.push(last);
    }
    parts.join("::")
}

/// Every path in a file that begins at the crate, at itself or above itself, from the crate's root on.
struct Paths<'a> {
    module: &'a str,
    modules: &'a BTreeSet<String>,
    found: BTreeSet<String>,
}

impl Paths<'_> {
    fn take(&mut self, parts: &[String]) {
        let mut at: Vec<&str> = self.module.split("::").filter(|p| !p.is_empty()).collect();
        let mut parts = parts.iter().map(String::as_str).peekable();
        match parts.peek() {
            Some(&"crate") => {
                at.clear();
                parts.next();
            }
            Some(&"self") => {
                parts.next();
            }
            Some(&"super") => {
                while parts.next_if(|p| *p == "super").is_some() {
                    at.pop();
                }
            }
            // A module below this one by its bare name.
            Some(first) => {
                let below = [self.module, first].join("::");
                if !self.modules.contains(below.trim_start_matches("::")) {
                    return;
                }
            }
            None => return,
        }
        at.extend(parts);
        // As far as it names modules.
        while !at.is_empty() && !self.modules.contains(&at.join("::")) {
            at.pop();
        }
        self.found.insert(at.join("::"));
    }

    fn tree(&mut self, before: &mut Vec<String>, tree: &syn::UseTree) {
        match tree {
            syn::UseTree::Path(p) => {
                before.push(p.ident.to_string());
                self.tree(before, &p.tree);
                before.pop();
            }
            syn::UseTree::Group(g) => g.items.iter().for_each(|t| self.tree(before, t)),
            syn::UseTree::Name(n) => self.leaf(before, &n.ident),
            syn::UseTree::Rename(r) => self.leaf(before, &r.ident),
            syn::UseTree::Glob(_) => self.take(before),
        }
    }

    fn leaf(&mut self, before: &[String], name: &syn::Ident) {
        let mut whole = before.to_vec();
        if name != "self" {
            whole.push(name.to_string());
        }
        self.take(&whole);
    }
}

impl<'ast> Visit<'ast> for Paths<'_> {
    fn visit_item_use(&mut self, item: &'ast syn::ItemUse) {
        // What a module hands on from below it is its table of contents, no need of its own.
        if matches!(item.vis, syn::Visibility::Inherited) {
            self.tree(&mut Vec::new(), &item.tree);
        }
    }

    fn visit_path(&mut self, path: &'ast syn::Path) {
        let parts: Vec<String> = path.segments.iter().map(|s| s.ident.to_string()).collect();
        if parts.len() > 1 {
            self.take(&parts);
        }
        visit::visit_path(self, path);
    }
}

fn of_crate(folder: &str) -> Arrows {
    let source = project().join(folder).join("src");
    let all = files(&source, &["rs"]);
    let module = |f: &PathBuf| module_of(f.strip_prefix(&source).unwrap());
    let modules: BTreeSet<String> = all.iter().map(module).collect();
    let mut arrows = Arrows::new();
    for file in &all {
        let name = module(file);
        let parsed = syn::parse_file(&std::fs::read_to_string(file).unwrap()).unwrap();
        let mut paths = Paths {
            module: &name,
            modules: &modules,
            found: BTreeSet::new(),
        };
        paths.visit_file(&parsed);
        paths.found.remove(&name);
        // The root holds nothing of its own in core, and everything hangs on it in a program.
        paths.found.remove("");
        arrows.insert(name.clone(), paths.found);
    }
    arrows
}

fn of_the_web() -> Arrows {
    let source = project().join("web/src");
    let all: Vec<PathBuf> = files(&source, &["ts", "tsx"])
        .into_iter()
        .filter(|f| !f.to_str().unwrap().contains(".test."))
        .collect();
    let name = |f: &Path| {
        f.strip_prefix(&source)
            .unwrap()
            .to_str()
            .unwrap()
            .to_owned()
    };
    let mut arrows = Arrows::new();
    for file in &all {
        let text = std::fs::read_to_string(file).unwrap();
        let imports = text
            .split(['"', '\''])
            .filter(|s| s.starts_with("./") || s.starts_with("../"));
        let mut found = BTreeSet::new();
        for import in imports {
            let mut at = file.parent().unwrap().to_path_buf();
            for step in import.split('/') {
                match step {
                    "." => {}
                    ".." => {
                        at.pop();
                    }
                    step => at.push(step),
                }
            }
            let base = at.to_str().unwrap();
            let as_file =
                [".ts", ".tsx", "/index.ts", ""].map(|end| PathBuf::from(format!("{base}{end}")));
            found.extend(as_file.iter().filter(|f| all.contains(f)).map(|f| name(f)));
        }
        arrows.insert(name(file), found);
    }
    arrows
}

fn circles(arrows: &Arrows) -> Vec<Vec<&str>> {
    let mut graph = DiGraphMap::<&str, ()>::new();
    for (from, to) in arrows {
        for to in to {
            graph.add_edge(from, to, ());
        }
    }
    tarjan_scc(&graph)
        .into_iter()
        .filter(|c| c.len() > 1)
        .collect()
}

/// Arrows from one folder to another that are not among those allowed.
fn wrong(
    arrows: &Arrows,
    folder: impl Fn(&str) -> String,
    may: impl Fn(&str, &str) -> bool,
) -> Vec<(&String, &String)> {
    let mut wrong = Vec::new();
    for (from, to) in arrows {
        for to in to {
            let (a, b) = (folder(from), folder(to));
            if a != b && !may(&a, &b) {
                wrong.push((from, to));
            }
        }
    }
    wrong
}

/// The folders of core, each with those that it may know.
const CORE: [(&str, &[&str]); 10] = [
    ("ground", &[]),
    ("vehicle", &["ground"]),
    ("art", &["ground"]),
    ("film", &["ground"]),
    ("place", &["ground", "vehicle", "art", "film"]),
    ("plan", &["ground", "vehicle", "art", "film", "place"]),
    (
        "floor",
        &["ground", "vehicle", "art", "film", "place", "plan"],
    ),
    (
        "cut",
        &["ground", "vehicle", "art", "film", "place", "plan"],
    ),
    ("marking", &["ground", "vehicle", "film"]),
    (
        "shop",
        &[
            "ground", "vehicle", "art", "film", "place", "plan", "floor", "marking",
        ],
    ),
];

fn first(module: &str) -> String {
    module.split("::").next().unwrap().to_owned()
}

#[test]
fn the_folders_of_core_know_only_what_lies_below_them() {
    let arrows = of_crate("crates/core");
    assert!(arrows.len() > 80 && arrows.values().map(BTreeSet::len).sum::<usize>() > 400);
    for module in arrows.keys().filter(|m| !m.is_empty()) {
        assert!(
            CORE.iter().any(|(f, _)| *f == first(module)),
            "{module} lies in no folder of ideas"
        );
    }
    let may = |a: &str, b: &str| CORE.iter().any(|(f, knows)| *f == a && knows.contains(&b));
    assert_eq!(wrong(&arrows, first, may), []);
    assert_eq!(circles(&arrows), Vec::<Vec<&str>>::new());
}

#[test]
fn no_file_of_the_server_stands_in_a_circle_and_routes_do_not_lean_on_each_other() {
    let arrows = of_crate("crates/server");
    assert_eq!(circles(&arrows), Vec::<Vec<&str>>::new());
    // What two routes need lies beside them, not in one of them.
    let route = |m: &str| m.starts_with("routes::");
    let leaning: Vec<_> = arrows
        .iter()
        .filter(|(from, _)| route(from))
        .flat_map(|(from, to)| to.iter().filter(|t| route(t)).map(move |to| (from, to)))
        .collect();
    assert_eq!(leaning, []);
    // What is below the routes does not know them.
    let above: Vec<_> = arrows
        .iter()
        .filter(|(from, _)| {
            !route(from) && !["lib", "routes", "openapi", "demo", ""].contains(&from.as_str())
        })
        .flat_map(|(from, to)| {
            to.iter()
                .filter(|t| t.starts_with("routes"))
                .map(move |to| (from, to))
        })
        .collect();
    assert_eq!(above, []);
}

#[test]
fn the_store_and_the_formats_have_no_circles() {
    for folder in ["crates/store", "crates/formats"] {
        assert_eq!(
            circles(&of_crate(folder)),
            Vec::<Vec<&str>>::new(),
            "{folder}"
        );
    }
}

/// The web's folders, each with those that it may know; `stage` is any of the stages, `stages` what they share.
const WEB: [(&str, &[&str]); 9] = [
    ("offline", &[]),
    ("api", &["offline"]),
    ("ui", &["api"]),
    ("drawing", &["api", "ui"]),
    ("readings", &["api", "ui", "drawing"]),
    ("job", &["offline", "api", "ui", "drawing", "readings"]),
    (
        "stage",
        &["offline", "api", "ui", "drawing", "readings", "job"],
    ),
    (
        "shop",
        &["offline", "api", "ui", "drawing", "readings", "job"],
    ),
    (
        "top",
        &[
            "offline", "api", "ui", "drawing", "readings", "job", "stage", "shop",
        ],
    ),
];

#[test]
fn the_webs_folders_know_only_what_lies_below_them() {
    let arrows = of_the_web();
    assert!(arrows.len() > 80);
    let folder = |file: &str| {
        let parts: Vec<&str> = file.split('/').collect();
        match parts[..] {
            [_] => "top".to_owned(),
            ["stages", stage, _, ..] => format!("stage {stage}"),
            [first, ..] => first.to_owned(),
            [] => String::new(),
        }
    };
    let may = |a: &str, b: &str| {
        // One stage does not know another.
        let kind = |f: &str| f.split(' ').next().unwrap().to_owned();
        kind(a) != kind(b)
            && WEB
                .iter()
                .any(|(f, knows)| *f == kind(a) && knows.contains(&kind(b).as_str()))
    };
    assert_eq!(wrong(&arrows, folder, may), []);
    assert_eq!(circles(&arrows), Vec::<Vec<&str>>::new());
}
