//! The colours that film comes in here: those of the shelf, then the usual ones.

use serde::Serialize;
use utoipa::ToSchema;
use windrift_core::film::classes::FilmClass;
use windrift_core::ground::colour::USUAL_FILMS;
use windrift_core::vehicle::surface::Material;

use crate::desk::Desk;
use crate::nests::film_of;
use crate::problem::Problem;

/// A colour of film.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct FilmColourView {
    /// `#rrggbb`.
    pub value: String,
    /// What it is called.
    pub name: String,
    /// The class of the shelf's film that has it; none for the usual ones, which come in most.
    #[serde(skip)]
    pub class: Option<FilmClass>,
}

impl FilmColourView {
    /// Whether film for this material comes in it: kits for textured plastic are cut from film of their own.
    pub fn is_for(&self, material: Material) -> bool {
        let for_texture = self.class == Some(FilmClass::ThickKit);
        self.class.is_none() || for_texture == (material == Material::TexturedPlastic)
    }
}

/// The usual colours, then what else stands on the shelf by its film's name. Films for prints and strips for marking are left out.
pub async fn film_colours(desk: &Desk) -> Result<Vec<FilmColourView>, Problem> {
    let usual = USUAL_FILMS.map(|(value, name)| (value.to_owned(), name.to_owned(), None));
    let rows = desk.films().await?;
    let shelf = (rows.iter().filter_map(film_of))
        .filter(|f| f.class.is_cut_for_its_colour())
        .map(|f| (f.colour.to_lowercase(), f.name, Some(f.class)));
    let mut colours: Vec<FilmColourView> = Vec::new();
    for (value, name, class) in usual.into_iter().chain(shelf) {
        if colours.iter().all(|c| c.value != value) {
            colours.push(FilmColourView { value, name, class });
        }
    }
    Ok(colours)
}
