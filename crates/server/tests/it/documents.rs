//! Documents through the API: as the pages that other programs read, for whom, and what becomes of what can't be printed. The program
//! that sets pages is built by bin/test.

use crate::fixture::*;
use axum::http::{Method, StatusCode, header};
use http_body_util::BodyExt;
use serde_json::{Value, json};
use std::{
    io::{Cursor, Read, Write},
    process::Command,
};

const DISTRICT: u32 = 43;
const WORK_ORDER: u32 = 452;
const SLIP: u32 = 453;
const LIST: u32 = 454;
const PICTURES: u32 = 54;

/// What a program of poppler's or qpdf's says of a PDF.
fn asked(program: &str, before: &[&str], pdf: &[u8], after: &[&str]) -> String {
    let mut file = tempfile::NamedTempFile::new().expect("a place for it");
    file.write_all(pdf).expect("it is written");
    let found = Command::new(program).args(before).arg(file.path()).args(after).output();
    let found = found.unwrap_or_else(|_| panic!("{program} is needed: run these tests with bin/test"));
    String::from_utf8_lossy(&found.stdout).into_owned()
}

fn text(pdf: &[u8]) -> String {
    asked("pdftotext", &["-layout"], pdf, &["-"])
}

fn about(program: &str, args: &[&str], pdf: &[u8]) -> String {
    asked(program, args, pdf, &[])
}

async fn printed(person: &Client, document: u32, body: Value) -> (StatusCode, String, Vec<u8>) {
    let path = format!("/api/trackers/1/documents/{document}/print");
    let response = person.raw(Method::POST, &path, &body.to_string(), &[("content-type", "application/json")]).await;
    let (status, named) =
        (response.status(), response.headers().get(header::CONTENT_DISPOSITION).map(|name| name.to_str().unwrap().to_owned()));
    let bytes = response.into_body().collect().await.unwrap().to_bytes().to_vec();
    (status, named.unwrap_or_default(), bytes)
}

async fn pdf(person: &Client, document: u32, records: &[u32]) -> Vec<u8> {
    let (status, _, bytes) = printed(person, document, json!({ "records": records })).await;
    assert_eq!(status, StatusCode::OK, "{}", String::from_utf8_lossy(&bytes));
    bytes
}

fn refusal(bytes: &[u8]) -> Value {
    serde_json::from_slice(bytes).expect("a problem")
}

#[tokio::test(flavor = "multi_thread")]
async fn a_work_order_is_a_page_that_other_programs_read() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (status, named, sheet) = printed(&nadia, WORK_ORDER, json!({ "records": [3] })).await;
    assert_eq!(status, StatusCode::OK);
    assert!(named.contains("filename=\"WO-2026-003 "), "{named}");
    let told = text(&sheet);
    for words in [
        "Work order WO-2026-003",
        "Orrindale Paths Trust",
        "Crew leader",
        "Unit price",
        "Line cost",
        "Materials",
        "Total",
        "approved",
        "1 of 1",
    ] {
        assert!(told.contains(words), "{words} in\n{told}");
    }
    // What its lines come to is what the record says.
    let (_, record) = nadia.get("/api/trackers/1/tables/6/records/3").await;
    let cell = |field: u64| {
        let place = record["fields"].as_array().unwrap().iter().position(|one| one == field).unwrap();
        record["row"]["cells"][place]["text"].as_str().unwrap().to_owned()
    };
    assert!(told.contains(&cell(280)) && told.contains(&cell(281)), "{} and {} in\n{told}", cell(280), cell(281));
    assert!(about("qpdf", &["--check"], &sheet).contains("No syntax or stream encoding errors"));
    let info = about("pdfinfo", &[], &sheet);
    assert!(
        info.contains("Tagged:          yes") && info.contains("Title:           Work order") && info.contains("Pages:           1"),
        "{info}"
    );
    let fonts = about("pdffonts", &[], &sheet);
    assert!(fonts.lines().skip(2).all(|line| line.contains(" yes yes yes ")) && fonts.contains("Papers-Sans"), "{fonts}");
    assert!(about("pdfinfo", &["-struct-text"], &sheet).contains("Table"), "its lines are a table for those who hear it");
    // The same record gives the same bytes, whoever prints it who sees the same.
    assert!(sheet == pdf(&nadia, WORK_ORDER, &[3]).await);
}

#[tokio::test(flavor = "multi_thread")]
async fn twenty_are_one_file_or_a_zip_of_their_own_names_and_a_view_is_a_list() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let records: Vec<u32> = (1..=20).collect();
    let all = pdf(&nadia, WORK_ORDER, &records).await;
    assert!(about("pdfinfo", &[], &all).contains("Pages:           20"));
    let told = text(&all);
    assert!(
        told.contains("WO-2026-001") && told.contains("WO-2026-020") && told.matches("1 of 1").count() == 20,
        "each is counted by itself"
    );
    let (status, named, zip) = printed(&nadia, WORK_ORDER, json!({ "records": [1, 2, 3], "each": true })).await;
    assert_eq!(status, StatusCode::OK);
    assert!(named.contains("Work order.zip"), "{named}");
    let mut zip = zip::ZipArchive::new(Cursor::new(zip)).expect("a zip");
    let names: Vec<String> = (0..zip.len()).map(|n| zip.by_index(n).expect("a file").name().expect("a name").into_owned()).collect();
    assert!(names.len() == 3 && names.iter().all(|name| name.starts_with("WO-2026-00") && name.ends_with(".pdf")), "{names:?}");
    let mut second = Vec::new();
    zip.by_name(&names[1]).unwrap().read_to_end(&mut second).unwrap();
    assert!(second.starts_with(b"%PDF") && text(&second).contains("Work order WO-2026-00"));
    // What a view shows, in its order.
    let query = json!({ "fields": shown(&[TITLE]), "condition": { "all": [] }, "sorts": [{ "field": 40, "descending": true }] });
    let (status, _, list) = printed(&nadia, LIST, json!({ "query": query })).await;
    assert_eq!(status, StatusCode::OK);
    let told = text(&list);
    let (last, first) = (told.find("FR-2026-0060").expect("the last"), told.find("FR-2026-0001").expect("the first"));
    assert!(last < first && told.contains("60"));
    let pages = about("pdfinfo", &[], &list).lines().find_map(|line| line.strip_prefix("Pages:").map(|n| n.trim().to_owned())).unwrap();
    assert_eq!(told.matches("What is wrong").count().to_string(), pages, "its headings stand again on every page");
}

/// Without any document a record is printed as it is laid out where one opens it, for whoever prints it.
#[tokio::test(flavor = "multi_thread")]
async fn a_record_is_printed_as_it_is_laid_out_by_whoever_sees_it() {
    let world = World::new().await;
    let (nadia, tamsin) = (world.person(NADIA).await, world.person(TAMSIN).await);
    let as_laid = async |who: &Client, record: &Value| {
        let (body, json) = (json!({ "records": [record] }).to_string(), [("content-type", "application/json")]);
        let response = who.raw(Method::POST, "/api/trackers/1/tables/3/print", &body, &json).await;
        (response.status(), response.into_body().collect().await.unwrap().to_bytes().to_vec())
    };
    let ids = |rows: &Value| rows["rows"].as_array().unwrap().iter().map(|row| row["id"].clone()).collect::<Vec<_>>();
    let (all, hers) = (ids(&nadia.rows(3, &[41]).await), ids(&tamsin.rows(3, &[41]).await));
    let (status, sheet) = as_laid(&nadia, &all[0]).await;
    assert_eq!(status, StatusCode::OK);
    let text = text(&sheet);
    let (_, folio) = nadia.get(&format!("/api/trackers/1/tables/3/records/{}", all[0])).await;
    for section in folio["laid"]["sections"].as_array().unwrap() {
        let heading = section["heading"].as_str().unwrap();
        assert!(text.contains(heading), "{heading} is missing of {text}");
    }
    let other = all.iter().find(|one| !hers.contains(one)).unwrap();
    assert_eq!(as_laid(&tamsin, other).await.0, StatusCode::NOT_FOUND);
    assert_eq!(as_laid(&tamsin, &hers[0]).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn everybody_prints_what_they_see_and_nothing_else() {
    let world = World::new().await;
    let (nadia, tamsin, pavel) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(PAVEL).await);
    let (_, rows) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[40, DISTRICT]) })).await;
    let of = |district: &str| {
        let row = rows["rows"].as_array().unwrap().iter().find(|row| row["cells"][1]["text"] == district).unwrap();
        (u32::try_from(row["id"].as_u64().unwrap()).unwrap(), row["cells"][0]["text"].as_str().unwrap().to_owned())
    };
    let ((own, number), (other, elsewhere)) = (of("Eskermoor"), of("Ninestone"));
    let both = text(&pdf(&tamsin, SLIP, &[other, own]).await);
    assert!(both.contains(&number) && !both.contains(&elsewhere));
    let (status, _, refused) = printed(&tamsin, SLIP, json!({ "records": [other] })).await;
    assert_eq!(status, StatusCode::NOT_FOUND, "{}", refusal(&refused));
    assert!(both.contains("only what is open to Tamsin Oake"));
    // A list of all, as she sees it.
    let query = json!({ "fields": shown(&[TITLE]) });
    let (_, _, list) = printed(&tamsin, LIST, json!({ "query": query })).await;
    assert!(text(&list).contains(&number) && !text(&list).contains(&elsewhere));
    // A field that is hidden stands on no paper of his, nor what it is called.
    let (_, design) = nadia.get(&format!("/api/trackers/1/documents/{SLIP}")).await;
    let mut document = design["document"].clone();
    document["blocks"][2]["shows"]["facts"].as_array_mut().unwrap().push(json!({ "path": [52], "words": "" }));
    let (status, done) =
        nadia.put(&format!("/api/trackers/1/parts/document/{SLIP}"), json!({ "document": { "document": document } })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert!(text(&pdf(&nadia, SLIP, &[own]).await).contains("Reporter’s mail"));
    let his = text(&pdf(&pavel, SLIP, &[own]).await);
    assert!(!his.contains("Reporter") && !his.contains("walkers.example"), "{his}");
    // Whoever does not build neither sees nor changes how it is composed, and knows what they can print.
    let (status, _) = pavel.get(&format!("/api/trackers/1/documents/{SLIP}")).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let (status, _) = pavel.post("/api/trackers/1/documents/preview", json!({ "document": document })).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    let (status, _) = pavel.put(&format!("/api/trackers/1/parts/document/{SLIP}"), json!({ "document": { "document": document } })).await;
    assert!(status.is_client_error());
    let (_, listed) = pavel.get("/api/trackers/1/documents").await;
    assert!(listed.as_array().unwrap().iter().any(|one| one["title"] == "Fault slip"));
    assert_eq!(printed(&world.stranger(), SLIP, json!({ "records": [own] })).await.0, StatusCode::UNAUTHORIZED);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_preview_says_where_blocks_lie_and_which_records_are_hard_to_set() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, design) = nadia.get(&format!("/api/trackers/1/documents/{WORK_ORDER}")).await;
    let document = &design["document"];
    let preview = async |body: Value| nadia.post("/api/trackers/1/documents/preview", body).await;
    let (status, told) = preview(json!({ "document": document, "record": 2 })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    assert!(told["pages"][0].as_str().unwrap().starts_with("<svg") && told["count"] == 1);
    let blocks = told["blocks"].as_array().unwrap();
    assert_eq!(blocks.iter().map(|block| block["number"].as_u64().unwrap()).collect::<Vec<_>>(), (1..=8).collect::<Vec<_>>());
    let at = |number: usize, part: &str| blocks[number - 1][part].as_f64().unwrap();
    assert!(at(2, "top") == at(3, "top") && at(3, "left") > at(2, "left"), "what stands side by side does");
    assert!(at(5, "top") > at(4, "top") && at(5, "width") > 160.0);
    assert_eq!((&told["at"]["place"], &told["at"]["before"], &told["at"]["after"]), (&json!(2), &json!(1), &json!(3)));
    // The one with the most lines is shown as easily.
    let (_, longest) = preview(json!({ "document": document, "record": told["at"]["longest"] })).await;
    assert!(longest["blocks"][4]["height"].as_f64() > told["blocks"][4]["height"].as_f64());
    // What is wrong is said where it stands, and nothing is set.
    let mut wrong = document.clone();
    wrong["blocks"][3]["shows"]["text"] = json!("Work of {Moon}");
    let (status, problem) = preview(json!({ "document": wrong })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(problem["faults"][0]["pointer"], "/blocks/3/shows/text");
    assert!(problem["detail"].as_str().unwrap().contains("There is no field “Moon”"));
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_typed_is_printed_as_it_was_typed_whatever_it_is() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let long = "wall".repeat(2_500);
    let texts = [
        "#panic(\"no\") $x^2$ *bold* _it_ @ref <label> `raw` // no comment \\ #{1+1}",
        "שביל חסום ליד השער",
        "الطريق مسدود عند البوابة",
        "ζυγός и мост — naïve café № 5 ½ €",
        &long,
    ];
    for (record, words) in (1..).zip(texts) {
        let input = json!({ "value": { "text": words } });
        let (status, done) = nadia.edit(record, 55, input, Value::Null).await;
        assert_eq!(status, StatusCode::OK, "{done}");
    }
    let sheet = async |record: u32| pdf(&nadia, SLIP, &[record]).await;
    let plain = asked("pdftotext", &["-raw"], &sheet(1).await, &["-"]).replace('\n', " ");
    for part in ["#panic(\"no\")", "$x^2$", "*bold*", "@ref", "<label>", "`raw`", "// no comment", "#{1+1}"] {
        assert!(plain.contains(part), "{part} in {plain}");
    }
    assert!(text(&sheet(2).await).contains("שביל"));
    let arabic = about("pdffonts", &[], &sheet(3).await);
    assert!(arabic.lines().count() > 3, "{arabic}");
    assert!(text(&sheet(4).await).contains("café"));
    // A word of ten thousand letters is broken, on as many pages as it takes.
    let broken: String = text(&sheet(5).await).chars().filter(|letter| letter.is_ascii_lowercase()).collect();
    assert!(broken.matches("wall").count() >= 2_400, "{}", broken.matches("wall").count());
}

#[tokio::test(flavor = "multi_thread")]
async fn a_sheet_is_kept_with_its_record_and_a_picture_stands_on_it() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let (_, design) = nadia.get(&format!("/api/trackers/1/documents/{SLIP}")).await;
    let mut document = design["document"].clone();
    let (status, problem) = nadia.post(&format!("/api/trackers/1/documents/{SLIP}/keep"), json!({ "records": [3] })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(problem["detail"].as_str().unwrap().contains("not kept with its records"));
    document["keep"] = json!(PICTURES);
    document["blocks"].as_array_mut().unwrap().push(json!({
        "beside": false, "set": { "bold": false, "align": "left", "above": false, "below": false, "together": false },
        "when": { "all": [] }, "shows": { "as": "picture", "path": [PICTURES], "height": 60 },
    }));
    let (status, done) =
        nadia.put(&format!("/api/trackers/1/parts/document/{SLIP}"), json!({ "document": { "document": document } })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (_, rows) = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[40, PICTURES]) })).await;
    let pictured = rows["rows"].as_array().unwrap().iter().find(|row| row["cells"][1].is_object()).expect("one with a picture");
    let record = u32::try_from(pictured["id"].as_u64().unwrap()).unwrap();
    let images = async |record: u32| about("pdfimages", &["-list"], &pdf(&nadia, SLIP, &[record]).await).lines().count();
    let with = images(record).await;
    // One without a picture says nothing of it.
    let bare = rows["rows"].as_array().unwrap().iter().find(|row| row["cells"][1].is_null()).expect("one without");
    assert!(images(u32::try_from(bare["id"].as_u64().unwrap()).unwrap()).await < with);
    let (status, done) = nadia.post(&format!("/api/trackers/1/documents/{SLIP}/keep"), json!({ "records": [record] })).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    let (_, kept) = nadia.get(&record_path(record)).await;
    assert!(kept.to_string().contains(&format!("{}.pdf", pictured["cells"][0]["text"].as_str().unwrap())), "{kept}");
    // Whoever may not change the record keeps nothing in it.
    let (status, _) =
        world.person(PAVEL).await.post(&format!("/api/trackers/1/documents/{SLIP}/keep"), json!({ "records": [record] })).await;
    assert_eq!(status, StatusCode::FORBIDDEN);
}

#[tokio::test(flavor = "multi_thread")]
async fn until_what_sets_pages_is_built_printing_says_so() {
    let settings = westerfall_server::settings::Settings { papers: "nowhere".into(), ..settings() };
    let world = World::with(settings).await;
    let nadia = world.person(NADIA).await;
    let (status, _, refused) = printed(&nadia, SLIP, json!({ "records": [3] })).await;
    assert_eq!(status, StatusCode::SERVICE_UNAVAILABLE);
    assert!(refusal(&refused)["detail"].as_str().unwrap().starts_with("Printing is being made ready"));
    let (status, _, refused) = printed(&nadia, SLIP, json!({ "records": [] })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refusal(&refused)["detail"].as_str().unwrap().starts_with("There is no record to print"));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_new_document_begins_with_what_its_table_holds_or_like_another() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    let make = async |body: Value| nadia.post("/api/trackers/1/parts", json!({ "document": body })).await;
    let (status, made) = make(json!({ "table": 6, "title": "Short order", "of": "each" })).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let number = u32::try_from(made["made"].as_u64().unwrap()).unwrap();
    assert!(text(&pdf(&nadia, number, &[1]).await).contains("Work order WO-2026-001"));
    let (status, made) = make(json!({ "table": 6, "title": "Work order, again", "of": "each", "like": WORK_ORDER })).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let again = u32::try_from(made["made"].as_u64().unwrap()).unwrap();
    let (_, one) = nadia.get(&format!("/api/trackers/1/documents/{WORK_ORDER}")).await;
    let (_, other) = nadia.get(&format!("/api/trackers/1/documents/{again}")).await;
    assert_eq!(one["document"]["blocks"], other["document"]["blocks"]);
    // Taken away, it is printed no more.
    let (status, _) = nadia.delete(&format!("/api/trackers/1/parts/document/{again}"), json!({})).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(printed(&nadia, again, json!({ "records": [1] })).await.0, StatusCode::NOT_FOUND);
    for refused in [json!({ "table": 6, "title": " ", "of": "each" }), json!({ "table": 999, "title": "No", "of": "all" })] {
        assert!(make(refused).await.0.is_client_error());
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn the_look_of_the_team_is_on_forms_pages_and_paper_and_its_owners_alone_change_it() {
    let world = World::new().await;
    let (nadia, bex, stranger) = (world.person(NADIA).await, world.person(BEX).await, world.stranger());
    let (_, team) = nadia.get("/api/team").await;
    assert_eq!(team["look"]["colour"], "#2e482c");
    // Whoever sees a form or a page sees the mark; on paper it stands with the letterhead.
    let mark = stranger.raw(Method::GET, "/api/public/mark", "", &[]).await;
    assert_eq!((mark.status(), mark.headers()[header::CONTENT_TYPE].to_str().unwrap()), (StatusCode::OK, "image/png"));
    let (_, page) = stranger.get("/api/public/pages/eskermoor-parish").await;
    assert!(page.to_string().contains("Orrindale Paths Trust"));
    let sheet = pdf(&nadia, WORK_ORDER, &[1]).await;
    assert!(text(&sheet).contains("Orrin Mill, Harrow Tarn") && about("pdfimages", &["-list"], &sheet).lines().count() > 2);
    let look = |colour: &str| json!({ "colour": colour, "words": "Elsewhere", "mark": false });
    assert_eq!(bex.put("/api/team/look", look("#1f5d7d")).await.0, StatusCode::FORBIDDEN);
    let (status, refused) = nadia.put("/api/team/look", look("green")).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/colour")));
    let (status, done) = nadia.put("/api/team/look", look("#1f5d7d")).await;
    assert_eq!((status, &done["did"]), (StatusCode::OK, &json!("changed how the team looks")));
    assert_eq!(stranger.raw(Method::GET, "/api/public/mark", "", &[]).await.status(), StatusCode::NOT_FOUND);
    let sheet = pdf(&nadia, WORK_ORDER, &[1]).await;
    assert!(text(&sheet).contains("Elsewhere") && about("pdfimages", &["-list"], &sheet).lines().count() == 2);
    // Another mark, from a picture; what is none is refused, and of somebody who may not nothing is kept.
    let send =
        async |client: &Client, bytes: &[u8]| client.answer_form("/api/team/mark", &[], &[("file".into(), "mark.png", bytes)], None).await;
    assert_eq!(send(&bex, &picture()).await.0, StatusCode::FORBIDDEN);
    assert!(send(&nadia, b"%PDF-1.7 no picture").await.0.is_client_error());
    let (status, done) = send(&nadia, &picture()).await;
    assert_eq!(status, StatusCode::OK, "{done}");
    assert_eq!(stranger.raw(Method::GET, "/api/public/mark", "", &[]).await.status(), StatusCode::OK);
    // Taken back, it is as it was.
    let (status, _) = nadia.post(&format!("/api/team/undo/{}", done["seq"]), json!({})).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(stranger.raw(Method::GET, "/api/public/mark", "", &[]).await.status(), StatusCode::NOT_FOUND);
}

/// What an automation encloses is printed when its mail is sent, as its reader may see it; outside goes what whoever wrote it chose.
#[tokio::test(flavor = "multi_thread")]
async fn a_document_goes_along_with_an_automations_mail() {
    let world = World::sending().await;
    let nadia = world.person(NADIA).await;
    let mail = |to: Value| json!({ "mail": { "to": to, "subject": "Slip of {Number}", "body": "Here it is.", "digest": false, "encloses": SLIP } });
    let automation = |steps: Value| {
        let (when, condition) = (json!({ "form": null }), json!({ "all": [] }));
        part(
            "automation",
            json!({ "table": FAULT_TABLE, "name": "Send the slip", "on": true, "when": when, "condition": condition, "steps": steps }),
        )
    };
    // To the office outside, and to the warden of its district.
    let (_, known) = nadia.get("/api/trackers/1/automations").await;
    let warden = known[0]["steps"][0]["mail"]["to"].clone();
    let steps = json!([mail(json!({ "address": "office@orrindale.example" })), mail(warden)]);
    let (status, made) = nadia.post("/api/trackers/1/parts", automation(steps.clone())).await;
    assert_eq!(status, StatusCode::OK, "{made}");
    let (_, list) = nadia.get("/api/trackers/1/automations").await;
    assert!(list.to_string().contains("“Fault slip”"), "{list}");
    assert_eq!(world.stranger().answer(good_answers("Gate hangs loose"), &[], None).await.0, StatusCode::OK);
    let found = crate::mail::mails(&nadia, "Slip of FR-", 2).await;
    assert_eq!(found.len(), 2);
    let office = found.iter().find(|mail| mail["recipient"] == "office@orrindale.example").expect("one to the office");
    let at = format!("/api/post-room/{}/enclosed", office["id"]);
    let (_, names) = nadia.get(&at).await;
    assert!(names[0].as_str().unwrap().ends_with(".pdf"), "{names}");
    let answer = nadia.raw(Method::GET, &format!("{at}/0"), "", &[]).await;
    let bytes = answer.into_body().collect().await.unwrap().to_bytes().to_vec();
    assert!(text(&bytes).contains("Gate hangs loose"));
    assert_eq!(nadia.get(&format!("{at}/7")).await.0, StatusCode::NOT_FOUND);
    // Whoever may not look at the mail gets nothing of what is in it.
    assert_eq!(world.person(PAVEL).await.get(&at).await.0, StatusCode::NOT_FOUND);
    // A document of another table, or of one that is gone, is refused where it stands.
    let odd = json!([{ "mail": { "to": { "address": "office@orrindale.example" }, "subject": "x", "body": "", "digest": false, "encloses": WORK_ORDER } }]);
    let (status, refused) = nadia.post("/api/trackers/1/parts", automation(odd)).await;
    assert_eq!((status, &refused["faults"][0]["pointer"]), (StatusCode::UNPROCESSABLE_ENTITY, &json!("/steps/0/mail/encloses")));
    // Without the document, the mail goes on without it.
    assert_eq!(nadia.delete(&format!("/api/trackers/1/parts/document/{SLIP}"), json!({})).await.0, StatusCode::OK);
    let (_, list) = nadia.get("/api/trackers/1/automations").await;
    assert!(!list.to_string().contains("enclosed"), "{list}");
}
