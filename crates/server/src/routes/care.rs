//! What the owner may do and when: on the screen, as a page, as a calendar, and into the outbox.

use lettre::message::{Attachment, Mailbox, Message, MultiPart, SinglePart, header};
use lettre::{FileTransport, Transport};
use rocket::State;
use rocket::data::Data;
use rocket::http::ContentType;
use rocket::serde::json::Json;
use rocket::{get, post};
use serde::{Deserialize, Serialize};
use time::OffsetDateTime;
use utoipa::ToSchema;
use uuid::Uuid;
use windrift_formats::calendar::{About, calendar};
use windrift_formats::care_sheet::care_sheet;
use windrift_formats::one_page::PageHeading;
use windrift_formats::packet::Paper;
use windrift_store::{EntryKind, NewEntry, StoreError};

use crate::Outbox;
use crate::cared::{CareView, Cared, cared};
use crate::desk::Desk;
use crate::entries::mailed::Mailed;
use crate::file::{File, paper_of};
use crate::links::shared;
use crate::problem::Problem;
use crate::request::{Caller, read_as, read_json};
use crate::routes::Answer;

/// Where the page goes.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
pub struct CareMail {
    /// Made by the client, so that a repeated request is one mail.
    pub id: Uuid,
    /// The owner's address.
    pub to: String,
}

/// What was put into the outbox.
#[derive(Debug, Serialize, ToSchema)]
pub struct MailView {
    /// What happened, in a sentence.
    pub says: String,
}

impl Cared {
    /// Paper and calendar say when; before everything lies they would say it wrongly.
    fn whole(self) -> Result<Cared, Problem> {
        match &self.view.but {
            None if self.view.of > 0 => Ok(self),
            None => Err(Problem::input(
                "not_laid",
                "There is nothing to look after yet. Lay out a piece first.",
            )),
            Some(but) => Err(Problem::input(
                "not_laid",
                format!("{but} Say under Lay down that they lie, then make the page."),
            )),
        }
    }

    fn calendar(&self, shop: &str) -> String {
        let about = About {
            job: self.job,
            shop,
            title: &self.title,
            made: OffsetDateTime::now_utc(),
        };
        calendar(&about, &self.view.dates, |at| self.zone.date(at))
    }

    fn page(&self, shop: &str, paper: Paper) -> Result<Vec<u8>, Problem> {
        let at = self.zone.stated(OffsetDateTime::now_utc());
        let heading = PageHeading {
            shop,
            title: &self.title,
            customer: &self.customer,
            at: &at,
        };
        care_sheet(&heading, &self.view.dates, &self.view.also, paper)
            .map_err(|e| Problem::input("care", e.to_string()))
    }

    /// A mail to the owner with the dates in words, the page and the calendar.
    fn mail(&self, shop: &str, to: Mailbox) -> Result<Message, Problem> {
        let from = "outbox@windrift.invalid".parse().map_err(|e| no_mail(&e))?;
        let mut words = format!(
            "{}\n\nLooking after it, by the clock of {}:\n",
            self.title, self.view.zone
        );
        for d in &self.view.dates {
            words.push_str(&format!("\n{}: {}\n{}\n", d.title, d.when, d.says));
        }
        let attached = |name: &str, kind: &str| {
            let kind = kind.parse().map_err(|e| no_mail(&e))?;
            Ok::<_, Problem>((Attachment::new(name.into()), kind))
        };
        let (page, pdf) = attached("looking-after-it.pdf", "application/pdf")?;
        let (dates, ics) = attached("looking-after-it.ics", "text/calendar; charset=utf-8")?;
        let words = SinglePart::builder()
            .header(header::ContentType::TEXT_PLAIN)
            .body(words);
        let parts = MultiPart::mixed()
            .singlepart(words)
            .singlepart(page.body(self.page(shop, Paper::Letter)?, pdf))
            .singlepart(dates.body(self.calendar(shop), ics));
        Message::builder()
            .from(Mailbox::new(Some(shop.to_owned()), from))
            .to(to)
            .subject(format!("{}: looking after it", self.title))
            .multipart(parts)
            .map_err(|e| no_mail(&e))
    }
}

fn no_mail(error: &dyn std::fmt::Display) -> Problem {
    let says = format!("The mail could not be put into the outbox: {error}.");
    Problem::input("mail", says)
}

/// What the owner may do and when.
#[utoipa::path(get, path = "/api/jobs/{id}/care", params(("id" = Uuid, Path)), responses((status = 200, body = CareView), (status = 404, body = Problem)))]
#[get("/jobs/<id>/care")]
pub async fn job_care(desk: &Desk, id: &str) -> Answer<CareView> {
    Ok(Json(cared(desk, id).await?.view))
}

/// What the owner may do and when, for the holder of a link.
#[utoipa::path(get, path = "/api/shared/{token}/care", params(("token" = String, Path)), responses((status = 200, body = CareView), (status = 404, body = Problem)))]
#[get("/shared/<token>/care")]
pub async fn shared_care(desk: &Desk, token: &str) -> Answer<CareView> {
    let job = shared(desk, token).await?.job_id.to_string();
    Ok(Json(cared(desk, &job).await?.view))
}

/// The same as a page for the owner.
#[utoipa::path(get, path = "/api/jobs/{id}/care.pdf", params(("id" = Uuid, Path), ("paper" = Option<String>, Query, description = "`letter` or `a4`")), responses((status = 200, content_type = "application/pdf"), (status = 422, body = Problem)))]
#[get("/jobs/<id>/care.pdf?<paper>")]
pub async fn care_page(desk: &Desk, id: &str, paper: Option<&str>) -> Result<File, Problem> {
    let paper = paper_of(paper)?;
    let cared = cared(desk, id).await?.whole()?;
    let shop = desk.shop().await?.name;
    let name = format!("{} looking after it", cared.title);
    let bytes = desk.compute(move || cared.page(&shop, paper)).await??;
    Ok(File::new(bytes, ContentType::PDF, &name, "pdf"))
}

/// The same as a calendar file.
#[utoipa::path(get, path = "/api/jobs/{id}/care.ics", params(("id" = Uuid, Path)), responses((status = 200, content_type = "text/calendar"), (status = 422, body = Problem)))]
#[get("/jobs/<id>/care.ics")]
pub async fn care_calendar(desk: &Desk, id: &str) -> Result<File, Problem> {
    let cared = cared(desk, id).await?.whole()?;
    let text = cared.calendar(&desk.shop().await?.name);
    let name = format!("{} looking after it", cared.title);
    Ok(File::new(
        text.into_bytes(),
        ContentType::Calendar,
        &name,
        "ics",
    ))
}

/// Puts page and calendar into the outbox as a mail to the owner. The outbox is a folder: a stand-in for a mail server, behind the same interface.
#[utoipa::path(post, path = "/api/jobs/{id}/care-mail", params(("id" = Uuid, Path)), request_body = CareMail, responses((status = 200, body = MailView), (status = 422, body = Problem)))]
#[post("/jobs/<id>/care-mail", data = "<data>")]
pub async fn mail_care(
    desk: &Desk,
    caller: Caller,
    outbox: &State<Outbox>,
    id: &str,
    data: Data<'_>,
) -> Answer<MailView> {
    let who = caller.writer()?.id;
    let asked: CareMail = read_as(read_json(data).await?)?;
    let wrong = |says: &str| Problem::input("mail", says.to_owned()).at("/to");
    let to: Mailbox = asked
        .to
        .trim()
        .parse()
        .map_err(|_| wrong("That is no mail address. It looks like name@place.example."))?;
    let cared = cared(desk, id).await?.whole()?;
    let job = cared.job;
    let sent =
        format!("In the outbox for {to}. No mail server is connected: it stays there as a file.");
    if desk.entry_of_job(job, asked.id).await?.is_some() {
        return Ok(Json(MailView { says: sent }));
    }
    let dates = cared.view.dates.iter();
    let mailed = Mailed {
        to: to.to_string(),
        told: dates.map(|d| format!("{} {}", d.title, d.when)).collect(),
    };
    let shop = desk.shop().await?.name;
    let folder = outbox.0.clone();
    desk.compute(move || {
        let mail = cared.mail(&shop, to.clone())?;
        std::fs::create_dir_all(&folder).map_err(|e| no_mail(&e))?;
        FileTransport::new(&folder)
            .send(&mail)
            .map_err(|e| no_mail(&e))?;
        Ok::<_, Problem>(())
    })
    .await??;
    // Only what went is recorded as gone.
    let entry = NewEntry {
        id: asked.id,
        kind: EntryKind::Mailed,
        crew: who,
        piece: None,
        body: serde_json::to_value(&mailed).map_err(StoreError::from)?,
        read_at: None,
    };
    desk.append(job, entry).await?;
    Ok(Json(MailView { says: sent }))
}
