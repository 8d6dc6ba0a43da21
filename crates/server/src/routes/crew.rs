//! The first page of an empty shop, and its crew.

use rocket::data::Data;
use rocket::http::CookieJar;
use rocket::serde::json::Json;
use rocket::{State, post, put};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_core::ground::settings::{SideWords, WorkSettings};
use windrift_core::ground::zone::Zone;
use windrift_store::entity::crew;
use windrift_store::stored::Kind;

use crate::desk::Desk;
use crate::keys::key;
use crate::problem::Problem;
use crate::request::{Caller, named, read_as, read_json};
use crate::routes::Answer;
use crate::secret;
use crate::session::{Secure, begin};
use crate::views::CrewView;

/// Longest name of a shop or a person, characters.
const LONGEST: usize = 40;
/// Most people of a crew.
const MOST: usize = 60;

/// What an empty shop is asked for.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct FirstShop {
    /// What the shop is called.
    pub name: String,
    /// What the sides of a vehicle are called here.
    pub side_words: SideWords,
    /// The time zone of its clock.
    #[serde(default)]
    pub zone: Zone,
    /// Key of the first person, made by the client.
    pub id: Uuid,
    /// The first person's name: the lead.
    pub person: String,
    /// Their passphrase.
    pub passphrase: String,
}

/// A member of the crew, new or changed.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct CrewMember {
    /// Their name.
    pub name: String,
    /// `lead`, `fitter` or `viewer`.
    pub role: Role,
}

/// What a member of the crew may do.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    /// Settles the shop's figures, and everything else.
    Lead,
    /// Works on jobs.
    Fitter,
    /// Looks and prints.
    Viewer,
}

impl Role {
    fn stored(self) -> &'static str {
        match self {
            Role::Lead => "lead",
            Role::Fitter => "fitter",
            Role::Viewer => "viewer",
        }
    }
}

/// Sets up an empty shop: its name, its words, and the first person, who leads. A shop that is set up stays as it is.
#[utoipa::path(post, path = "/api/shop/first", request_body = FirstShop, responses((status = 200, body = CrewView), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[post("/shop/first", data = "<data>")]
pub async fn first_shop(
    desk: &Desk,
    cookies: &CookieJar<'_>,
    secure: &State<Secure>,
    data: Data<'_>,
) -> Answer<CrewView> {
    let first: FirstShop = read_as(read_json(data).await?)?;
    let name = named(
        &first.name,
        LONGEST,
        "name",
        "Type what the shop is called.",
    )?;
    let person = named(&first.person, LONGEST, "person", "Type your own name.")?;
    secret::good_passphrase(&first.passphrase, &person)?;
    let settings = WorkSettings {
        side_words: first.side_words,
        zone: first.zone,
        ..WorkSettings::default()
    };
    let lead = member(first.id, person, Role::Lead, 0);
    let settings = Kind::Settings.write(&settings)?;
    // The same request again, its answer lost, finds its own lead there.
    if desk.open_shop(&name, settings, lead.clone()).await? {
        // Said again, pressed twice or its answer lost: only with the same passphrase, and no session of the first time is ended.
        let typed = first.passphrase.clone();
        let hash = desk.compute(move || secret::kept(&typed)).await??;
        let theirs = match desk.set_first_passphrase(lead.id, &hash).await? {
            true => true,
            false => {
                let known = desk.passphrase_of(lead.id).await?;
                let typed = first.passphrase;
                desk.compute(move || known.is_some_and(|known| secret::fits(&typed, &known.hash)))
                    .await?
            }
        };
        if theirs {
            begin(
                desk,
                cookies,
                secure,
                &lead,
                false,
                "the first device".into(),
            )
            .await?;
            return Ok(Json(view(lead)));
        }
    }
    Err(Problem::new(
        rocket::http::Status::Conflict,
        "set_up",
        "This shop is set up already. Sign in, or have the lead add you.",
    ))
}

fn member(id: Uuid, name: String, role: Role, position: usize) -> crew::Model {
    crew::Model {
        id,
        name,
        role: role.stored().to_owned(),
        position: position as i32,
    }
}

fn view(member: crew::Model) -> CrewView {
    CrewView {
        id: member.id,
        name: member.name,
        role: member.role,
    }
}

/// Adds somebody to the crew, or changes their name and part. The lead's.
#[utoipa::path(put, path = "/api/crew/{id}", params(("id" = Uuid, Path)), request_body = CrewMember, responses((status = 200, body = CrewView), (status = 403, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[put("/crew/<id>", data = "<data>")]
pub async fn put_crew(desk: &Desk, caller: Caller, id: &str, data: Data<'_>) -> Answer<CrewView> {
    caller.lead()?;
    let id = key(id)?;
    let asked: CrewMember = read_as(read_json(data).await?)?;
    let name = named(&asked.name, LONGEST, "name", "Type a name.")?;
    let crew = desk.crew().await?;
    if crew
        .iter()
        .any(|c| c.id != id && c.name.to_lowercase() == name.to_lowercase())
    {
        return Err(Problem::new(
            rocket::http::Status::Conflict,
            "named_already",
            format!("There is a {name} already. Add a letter of the other name, so that the record tells them apart."),
        )
        .at("/name"));
    }
    let standing = crew.iter().find(|c| c.id == id);
    let leads = crew.iter().filter(|c| c.role == "lead").count();
    if standing.is_some_and(|c| c.role == "lead") && asked.role != Role::Lead && leads < 2 {
        return Err(Problem::input(
            "last_lead",
            "Somebody must lead. Make another one the lead first.",
        )
        .at("/role"));
    }
    match standing {
        Some(_) => desk.change_crew(id, &name, asked.role.stored()).await?,
        None if crew.len() >= MOST => {
            return Err(Problem::input(
                "too_many",
                format!("A crew has at most {MOST} people."),
            ));
        }
        None => {
            desk.add_crew(member(id, name.clone(), asked.role, crew.len()))
                .await?
        }
    }
    Ok(Json(view(member(id, name, asked.role, 0))))
}
