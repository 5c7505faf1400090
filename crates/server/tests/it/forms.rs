//! Forms, as strangers reach them.

use crate::fixture::*;
use axum::{
    body::Body,
    http::{Method, Request, StatusCode},
};
use serde_json::json;

#[tokio::test(flavor = "multi_thread")]
async fn a_strangers_answer_is_a_record_marked_with_its_form() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let (_, form) = stranger.get(FORM).await;
    assert_eq!(form["title"], "Report a path fault");
    assert!(form["questions"].as_array().unwrap().iter().all(|q| q["answer"]["type"] != "person"));
    let (status, body) = stranger.answer(good_answers("Gate will not open"), &[(PICTURES, "gate.png", &picture())], None).await;
    assert_eq!((status, body["confirmation"].as_str().unwrap().is_empty()), (StatusCode::OK, false), "{body}");
    let newest = nadia
        .query(FAULT_TABLE, json!({ "fields": shown(&[40, TITLE, SECTION, PICTURES, 44]), "sorts": [{ "field": 40, "descending": true }] }))
        .await
        .1;
    let row = &newest["rows"][0];
    assert_eq!(row["form"], 120);
    let texts: Vec<&str> = [0, 1, 2, 4].iter().map(|n| row["cells"][*n]["text"].as_str().unwrap()).collect();
    let year = jiff::Timestamp::now().to_zoned(jiff::tz::TimeZone::UTC).year();
    assert_eq!(texts, [&*format!("FR-{year}-0061"), "Gate will not open", "Esker Ridge to Hob Gate", "Tamsin Oake"]);
    assert_eq!(row["cells"][3]["value"]["files"][0]["media"], "image/jpeg");
}

#[tokio::test(flavor = "multi_thread")]
async fn a_question_offers_names_and_nothing_of_the_table_leaks() {
    let world = World::new().await;
    let stranger = world.stranger();
    let (_, names) = stranger
        .post(
            &format!("{FORM}/questions/{SECTION}/names"),
            json!({ "search": "hob", "so_far": { "answers": { "41": { "text": "Gate" } } } }),
        )
        .await;
    assert!(names.as_array().is_some_and(|n| !n.is_empty() && n.iter().all(|n| n.as_object().unwrap().len() == 2)), "{names}");
    for field in [43, 44, STATUS, 9_999] {
        let (status, _) = stranger.post(&format!("{FORM}/questions/{field}/names"), json!({ "search": "" })).await;
        assert_eq!(status, StatusCode::NOT_FOUND);
    }
    for path in ["/api/trackers", "/api/trackers/1", "/api/trackers/1/tables/2/names", "/api/post-room"] {
        assert_eq!(stranger.get(path).await.0, StatusCode::UNAUTHORIZED);
    }
    assert_eq!(stranger.get("/api/public/forms/guess").await.0, StatusCode::NOT_FOUND);
}

#[tokio::test(flavor = "multi_thread")]
async fn one_bad_answer_keeps_nothing_file_included() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let kept = || walk(&std::env::temp_dir().join(format!("westerfall-tests-{}", std::process::id())));
    let mut bad = good_answers("Half right");
    bad["52"] = json!({ "text": "no address" });
    bad.as_object_mut().unwrap().remove("42");
    // Other tests keep files of their own meanwhile, so this one is known by its size.
    let odd = {
        let mut bytes = b"%PDF-1.4\n".to_vec();
        bytes.resize(123_457, b' ');
        bytes
    };
    let (status, body) = stranger.answer(bad, &[(PICTURES, "odd.pdf", &odd)], None).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let mut places: Vec<&str> = body["faults"].as_array().unwrap().iter().map(|f| f["pointer"].as_str().unwrap()).collect();
    places.sort_unstable();
    assert_eq!(places, ["/answers/42", "/answers/52"]);
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS);
    assert!(!kept().contains(&123_457), "the file of a refused answer was kept");
    assert_eq!(stranger.answer(good_answers("Right"), &[(PICTURES, "odd.pdf", &odd)], None).await.0, StatusCode::OK);
    assert!(kept().contains(&123_457));
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_wrong_in_lines_is_counted_with_the_answers() {
    let world = World::new().await;
    let stranger = world.stranger();
    let send = async |answers, line| {
        let texts = [("answers", answers), ("lines", json!({ "279": [line] }))];
        let (status, body) = stranger.answer_form("/api/public/forms/order-materials", &texts, &[], None).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{body}");
        let mut places: Vec<String> = body["faults"].as_array().unwrap().iter().map(|f| f["pointer"].as_str().unwrap().into()).collect();
        places.sort_unstable();
        (places, body["detail"].as_str().unwrap().to_owned())
    };
    let day = json!({ "274": { "text": "2026-12-01" } });
    let (places, detail) = send(json!({}), json!({ "253": { "text": "2" } })).await;
    assert_eq!(places, ["/answers/274", "/lines/279/0/252"]);
    assert_eq!(detail, "Nothing was sent yet: 2 answers need another look.");
    let (places, detail) = send(day, json!({ "253": { "text": "2" } })).await;
    assert_eq!((places.len(), detail.as_str()), (1, "Nothing was sent yet: one answer needs another look."));
}

/// The sizes of all files in a folder.
fn walk(folder: &std::path::Path) -> Vec<u64> {
    let entries = std::fs::read_dir(folder).into_iter().flatten().flatten();
    entries.flat_map(|e| if e.path().is_dir() { walk(&e.path()) } else { vec![e.metadata().map_or(0, |m| m.len())] }).collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn files_are_known_by_their_content() {
    let world = World::new().await;
    let stranger = world.stranger();
    let refused = async |name: &str, bytes: &[u8]| stranger.answer(good_answers("File"), &[(PICTURES, name, bytes)], None).await;
    let (status, body) = refused("picture.jpg", b"<script>alert(1)</script>").await;
    assert_eq!(status, StatusCode::UNSUPPORTED_MEDIA_TYPE);
    assert_eq!(body["faults"][0]["pointer"], format!("/answers/{PICTURES}"));
    assert_eq!(body["detail"], "“picture.jpg” can’t be taken. Send a picture (JPEG, PNG, WebP or GIF) or a PDF.");
    let mut large = b"%PDF-".to_vec();
    large.resize(13 * 1024 * 1024, 0);
    assert_eq!(refused("large.pdf", &large).await.0, StatusCode::PAYLOAD_TOO_LARGE);
    let mut cut = picture();
    cut.truncate(60);
    assert_eq!(refused("cut.png", &cut).await.0, StatusCode::UNSUPPORTED_MEDIA_TYPE);
    let mut huge = b"%PDF-".to_vec();
    huge.resize(50 * 1024 * 1024, 0);
    assert_eq!(refused("huge.pdf", &huge).await.0, StatusCode::PAYLOAD_TOO_LARGE);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_form_sent_twice_is_one_record_and_a_closed_one_takes_none() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let key = Some("an opened form");
    let (one, two) = tokio::join!(stranger.answer(good_answers("Twice"), &[], key), stranger.answer(good_answers("Twice"), &[], key));
    assert_eq!((one.0, two.0), (StatusCode::OK, StatusCode::OK));
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 1);
    let (_, design) = nadia.get("/api/trackers/1/forms/120").await;
    let mut form = design["form"].clone();
    form["open"] = json!(false);
    let body = json!({ "form": form, "confirmation": design["confirmation"] });
    assert_eq!(nadia.put("/api/trackers/1/parts/form/120", part("form", body)).await.0, StatusCode::OK);
    let (status, body) = stranger.answer(good_answers("Late"), &[], None).await;
    assert_eq!((status, body["detail"].as_str().unwrap()), (StatusCode::GONE, "We take no reports at the moment. Please call the office."));
    assert_eq!(stranger.get(FORM).await.1["questions"], json!([]));
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 1);
}

/// The demo's form, changed by the steward.
async fn with(nadia: &Client, change: impl FnOnce(&mut serde_json::Value)) -> Answer {
    let (_, design) = nadia.get("/api/trackers/1/forms/120").await;
    let mut form = design["form"].clone();
    change(&mut form);
    nadia.put("/api/trackers/1/parts/form/120", part("form", json!({ "form": form, "confirmation": design["confirmation"] }))).await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_last_place_goes_to_exactly_one_of_those_who_send_at_once() {
    let world = World::new().await;
    let nadia = world.person(NADIA).await;
    assert_eq!(with(&nadia, |form| form["limits"] = json!({ "most": 5 })).await.0, StatusCode::OK);
    // Three came already; eight people send for the two places left.
    let sending = (0..8).map(|n| {
        let stranger = world.stranger();
        async move { stranger.answer(good_answers(&format!("Number {n}")), &[], Some(&format!("key {n}"))).await.0 }
    });
    let answers = futures::future::join_all(sending).await;
    assert_eq!(answers.iter().filter(|s| **s == StatusCode::OK).count(), 2, "{answers:?}");
    assert!(answers.iter().all(|s| matches!(*s, StatusCode::OK | StatusCode::GONE)), "{answers:?}");
    assert_eq!(world.stranger().get(FORM).await.1["state"], "full");
    // Whoever got in and lost the answer on the way may ask again with the same key.
    let taken = answers.iter().position(|s| *s == StatusCode::OK).unwrap();
    let again = world.stranger().answer(good_answers(&format!("Number {taken}")), &[], Some(&format!("key {taken}"))).await;
    assert_eq!(again.0, StatusCode::OK);
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 2);
}

#[tokio::test(flavor = "multi_thread")]
async fn an_answer_is_followed_at_its_private_address_and_nowhere_else() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let random = Some("3f0c8f5e-58a1-4b0f-9d36-0f6f2c1a7e55");
    let (_, sent) = stranger.answer(good_answers("Gate off its hinge"), &[], random).await;
    let address = sent["follow"].as_str().unwrap();
    // Whoever lost the answer on the way asks again with a key that only they have; one that can be guessed tells it once.
    assert_eq!(stranger.answer(good_answers("Gate off its hinge"), &[], random).await.1, sent);
    let (_, first) = stranger.answer(good_answers("Step loose"), &[], Some("one")).await;
    let (_, second) = stranger.answer(good_answers("Step loose"), &[], Some("one")).await;
    assert!(first["follow"].is_string() && second["follow"].is_null());
    let at = format!("/api/public/answers/{}", address.rsplit('/').next().unwrap());
    let (status, followed) = stranger.get(&at).await;
    assert_eq!(status, StatusCode::OK, "{followed}");
    let facts: Vec<&str> = followed["facts"].as_array().unwrap().iter().map(|f| f["label"].as_str().unwrap()).collect();
    assert_eq!(facts, ["Number", "Status", "Planned for"]);
    assert!(sent["confirmation"].as_str().unwrap().contains(followed["facts"][0]["text"].as_str().unwrap()));
    let (status, added) = stranger.post(&at, json!({ DESCRIPTION.to_string(): { "text": "Beside the barn" } })).await;
    assert_eq!(status, StatusCode::OK, "{added}");
    assert_eq!(stranger.post(&at, json!({ STATUS.to_string(): { "text": "made good" } })).await.0, StatusCode::FORBIDDEN);
    let newest = nadia.query(FAULT_TABLE, json!({ "fields": shown(&[40]), "sorts": [{ "field": 40, "descending": true }] })).await.1;
    let record = u32::try_from(newest["rows"][1]["id"].as_u64().unwrap()).unwrap();
    nadia.edit(record, STATUS, json!({ "text": "in hand" }), json!(null)).await;
    let (_, followed) = stranger.get(&at).await;
    assert_eq!((&followed["facts"][1]["text"], followed["questions"].as_array().unwrap().len()), (&json!("in hand"), 0));
    assert_eq!(stranger.post(&at, json!({ DESCRIPTION.to_string(): { "text": "Late" } })).await.0, StatusCode::GONE);
    for guess in ["/api/public/answers/guess", "/api/public/answers/one"] {
        assert_eq!(stranger.get(guess).await.0, StatusCode::NOT_FOUND);
    }
    // Another server, and one that begins anew, know it too.
    let beside = world.again(settings()).await;
    assert_eq!(beside.stranger().get(&at).await.0, StatusCode::OK);
}

#[tokio::test(flavor = "multi_thread")]
async fn a_form_is_for_whom_it_says_where_it_says() {
    let world = World::new().await;
    let (nadia, bex, stranger) = (world.person(NADIA).await, world.person(BEX).await, world.stranger());
    // Another form's address can't be taken, nor one that is none.
    assert_eq!(with(&nadia, |form| form["link"] = json!("order-materials")).await.1["faults"][0]["pointer"], "/link");
    assert_eq!(with(&nadia, |form| form["link"] = json!("No such")).await.1["faults"][0]["pointer"], "/link");
    assert_eq!(with(&nadia, |form| form["embed"] = json!(["https://paths.example/page"])).await.1["faults"][0]["pointer"], "/embed");
    assert_eq!(with(&nadia, |form| form["embed"] = json!(["https://paths.example"])).await.0, StatusCode::OK);
    let pages = std::env::temp_dir().join(format!("westerfall-pages-{}", std::process::id()));
    std::fs::create_dir_all(&pages).unwrap();
    std::fs::write(pages.join("form.html"), "<html></html>").unwrap();
    let served = world.again(westerfall_server::settings::Settings { web: pages, ..settings() }).await;
    let framed = served.stranger().raw(Method::GET, "/f/report-a-path-fault", "", &[]).await;
    let headers = framed.headers();
    assert!(headers["content-security-policy"].to_str().unwrap().ends_with("frame-ancestors https://paths.example"));
    assert!(!headers.contains_key("x-frame-options"));
    // The pages of that site may also read and answer it by themselves; those of others may not.
    let from = async |site: &str, method: Method, path: &str| {
        let answer = stranger.raw(method, path, "{}", &[("origin", site), ("host", "westerfall.example")]).await;
        let allowed = answer.headers().get("access-control-allow-origin").map(|v| v.to_str().unwrap().to_owned());
        (answer.status(), allowed)
    };
    let (own, foreign, look) = ("https://paths.example", "https://other.example", format!("{FORM}/look"));
    assert_eq!(from(own, Method::OPTIONS, &look).await, (StatusCode::NO_CONTENT, Some(own.into())));
    assert_eq!(from(own, Method::POST, &look).await, (StatusCode::OK, Some(own.into())));
    assert_eq!(from(foreign, Method::POST, &look).await, (StatusCode::FORBIDDEN, None));
    assert_eq!(from(own, Method::POST, "/api/public/forms/order-materials/look").await, (StatusCode::FORBIDDEN, None));
    let other = served.stranger().raw(Method::GET, "/f/order-materials", "", &[]).await;
    assert!(other.headers()["content-security-policy"].to_str().unwrap().ends_with("frame-ancestors 'none'"));
    // For people of the team, each once.
    let once = |form: &mut serde_json::Value| {
        form["embed"] = json!([]);
        form["audience"] = json!("once");
    };
    assert_eq!(with(&nadia, once).await.0, StatusCode::OK);
    assert_eq!(stranger.get(FORM).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(bex.get(FORM).await.0, StatusCode::OK);
    assert_eq!(stranger.answer(good_answers("Mine"), &[], None).await.0, StatusCode::UNAUTHORIZED);
    assert_eq!(bex.answer(good_answers("Hers"), &[], None).await.0, StatusCode::OK);
    assert_eq!(bex.answer(good_answers("Hers again"), &[], None).await.0, StatusCode::GONE);
    assert_eq!(bex.get(FORM).await.0, StatusCode::GONE);
    let (_, answers) = nadia.get("/api/trackers/1/forms/120/answers").await;
    assert_eq!((&answers["rows"][0]["by"], &answers["visits"]["sent"], &answers["total"]), (&json!("Bex Lindqvist"), &json!(1), &json!(4)));
    // A code to scan, with what the link says.
    for (file, begins) in [("code.svg", &b"<?xml"[..]), ("code.png", b"\x89PNG")] {
        let answer = stranger.raw(Method::GET, &format!("{FORM}/qr/{file}?post=PS-001"), "", &[]).await;
        let bytes = axum::body::to_bytes(answer.into_body(), usize::MAX).await.unwrap();
        assert!(bytes.starts_with(begins));
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_programs_fill_in_is_refused_and_what_people_leave_is_counted() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let with_part = async |name: &str, value: &str| {
        let answers = good_answers("By a program");
        let body = format!(
            "--edge\r\nContent-Disposition: form-data; name=\"answers\"\r\n\r\n{answers}\r\n--edge\r\n\
             Content-Disposition: form-data; name=\"{name}\"\r\n\r\n{value}\r\n--edge--\r\n"
        );
        let request = Request::post(FORM).header("content-type", "multipart/form-data; boundary=edge");
        stranger.send(request.body(Body::from(body)).unwrap()).await.status()
    };
    assert_eq!(with_part("website", "https://buy.example").await, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(with_part("took", "300").await, StatusCode::TOO_MANY_REQUESTS);
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS);
    assert_eq!(with_part("took", "30000").await, StatusCode::OK);
    for _ in 0..3 {
        assert_eq!(stranger.post(&format!("{FORM}/count"), json!("opened")).await.0, StatusCode::NO_CONTENT);
    }
    assert_eq!(stranger.post(&format!("{FORM}/count"), json!({ "left": SECTION })).await.0, StatusCode::NO_CONTENT);
    assert_eq!(stranger.post(&format!("{FORM}/count"), json!({ "left": 9_999 })).await.0, StatusCode::NOT_FOUND);
    let (_, answers) = nadia.get("/api/trackers/1/forms/120/answers").await;
    let left = json!([{ "field": SECTION, "label": "Which path?", "number": 1 }]);
    assert_eq!(answers["visits"], json!({ "opened": 3, "sent": 1, "left": left }));
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_told_of_a_form_counts_only_what_the_asker_may_see() {
    let world = World::new().await;
    let (nadia, tamsin, idris) = (world.person(NADIA).await, world.person(TAMSIN).await, world.person(IDRIS).await);
    let told = async |who: &Client| {
        let (_, forms) = who.get("/api/trackers/1/forms").await;
        let form = forms.as_array().unwrap().iter().find(|f| f["id"] == 120).unwrap().clone();
        (form["came"]["number"].as_u64().unwrap(), form["came"]["last"].clone())
    };
    let before = [told(&nadia).await, told(&tamsin).await, told(&idris).await];
    // In Eskermoor, which is Tamsin's.
    assert_eq!(world.stranger().answer(good_answers("Wall down"), &[], None).await.0, StatusCode::OK);
    let after = [told(&nadia).await, told(&tamsin).await, told(&idris).await];
    let grown = [0, 1, 2].map(|n| after[n].0 - before[n].0);
    assert_eq!((grown, &after[2].1), ([1, 1, 0], &before[2].1));
    let (_, answers) = idris.get("/api/trackers/1/forms/120/answers").await;
    assert_eq!((&answers["total"], &answers["visits"]), (&json!(after[2].0), &json!(null)));
}

#[tokio::test(flavor = "multi_thread")]
async fn a_signed_call_and_a_mail_are_answers_with_the_same_checks() {
    let world = World::sending().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let secret = "a secret that is long enough to be one";
    let ways = json!({
        "call": { "secret": secret, "fields": [
            { "from": "fault.what", "field": TITLE }, { "from": "fault.kind", "field": 45 }, { "from": "fault.grade", "field": 46 },
            { "from": "post", "field": SECTION },
        ] },
        "mail": { "fields": [
            { "from": "subject", "field": TITLE }, { "from": "text", "field": DESCRIPTION }, { "from": "sender", "field": 52 },
            { "from": "attachments", "field": PICTURES },
        ] },
    });
    let ease = |form: &mut serde_json::Value| {
        form["ways"] = ways.clone();
        // A mail can't say these.
        for question in form["questions"].as_array_mut().unwrap() {
            question["required"] = json!(question["field"] == TITLE);
        }
    };
    assert_eq!(with(&nadia, ease).await.0, StatusCode::OK);
    let (_, answer) = nadia.get("/api/trackers/1/forms/120").await;
    // Rehearsed, it keeps nothing and says what would be put in, or why not.
    let good = json!({ "fault": { "what": "Sign turned round", "kind": "signage", "grade": "awkward" }, "post": "PS-003" });
    let (status, tried) = nadia.post("/api/trackers/1/forms/120/try", json!({ "form": answer["form"], "call": good })).await;
    assert_eq!(status, StatusCode::OK, "{tried}");
    assert!(tried["puts"].as_array().unwrap().iter().any(|p| p["name"] == "Section" && p["text"] != ""), "{tried}");
    let bad = json!({ "fault": { "what": "Sign", "kind": "dragon" } });
    let (status, refused) = nadia.post("/api/trackers/1/forms/120/try", json!({ "form": answer["form"], "call": bad })).await;
    assert_eq!((status, refused["faults"][0]["pointer"].clone()), (StatusCode::UNPROCESSABLE_ENTITY, json!("/answers/45")));
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS);
    // Signed with the secret, now, and once.
    let call = async |secret: &str, moment: i64, body: &serde_json::Value| {
        let (moment, body) = (moment.to_string(), body.to_string());
        let signed = westerfall_server::ways::signature(secret, &moment, body.as_bytes());
        let headers = [("westerfall-timestamp", moment.as_str()), ("westerfall-signature", signed.as_str())];
        stranger.raw(Method::POST, &format!("{FORM}/calls"), &body, &headers).await.status()
    };
    let now = jiff::Timestamp::now().as_second();
    assert_eq!(call("another secret that is long enough", now, &good).await, StatusCode::UNAUTHORIZED);
    assert_eq!(call(secret, now - 3_600, &good).await, StatusCode::UNAUTHORIZED);
    assert_eq!(call(secret, now, &bad).await, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS);
    assert_eq!((call(secret, now, &good).await, call(secret, now, &good).await), (StatusCode::OK, StatusCode::OK));
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 1);
    // A mail over SMTP, with a picture.
    let smtp = world.app.settings.mail.url.trim_start_matches("smtp://").to_owned();
    tokio::task::spawn_blocking(move || mail(&smtp, "report-a-path-fault@in.westerfall.example")).await.unwrap();
    assert_eq!(nadia.rows(FAULT_TABLE, &[TITLE]).await["total"], FAULTS + 2);
    let newest = nadia
        .query(FAULT_TABLE, json!({ "fields": shown(&[TITLE, 52, PICTURES]), "sorts": [{ "field": 40, "descending": true }] }))
        .await
        .1;
    let row = &newest["rows"][0];
    assert_eq!((&row["form"], &row["cells"][0]["text"]), (&json!(120), &json!("Bridge board loose")));
    assert_eq!(
        (&row["cells"][1]["text"], &row["cells"][2]["value"]["files"][0]["media"]),
        (&json!("wynn@walkers.example"), &json!("image/jpeg"))
    );
    let (_, told) = nadia.get("/api/trackers/1/forms/120/ways").await;
    let log: Vec<(&str, bool)> = told["log"].as_array().unwrap().iter().map(|l| (l["way"].as_str().unwrap(), l["note"] == "")).collect();
    assert_eq!(log, [("mail", true), ("call", true), ("call", true), ("call", false)]);
    assert_eq!(world.person(BEX).await.get("/api/trackers/1/forms/120/ways").await.0, StatusCode::NOT_FOUND);
}

/// Sends a mail with a picture, as any mail program would.
fn mail(smtp: &str, to: &str) {
    use lettre::{
        Message, SmtpTransport, Transport,
        message::{Attachment, MultiPart, SinglePart, header::ContentType},
    };
    let picture = Attachment::new("board.png".into()).body(picture(), ContentType::parse("image/png").unwrap());
    let body = MultiPart::mixed().singlepart(SinglePart::plain("Two boards on the second bridge.".to_owned())).singlepart(picture);
    let from = "Wynn Ashdale <wynn@walkers.example>".parse().unwrap();
    let message = Message::builder().from(from).to(to.parse().unwrap()).subject("Bridge board loose").multipart(body).unwrap();
    let (host, port) = smtp.rsplit_once(':').unwrap();
    SmtpTransport::builder_dangerous(host).port(port.parse().unwrap()).build().send(&message).unwrap();
}

#[tokio::test(flavor = "multi_thread")]
async fn a_picture_is_drawn_anew_unless_its_field_keeps_originals() {
    let world = World::new().await;
    let (nadia, stranger) = (world.person(NADIA).await, world.stranger());
    let sent = async |title: &str| {
        assert_eq!(stranger.answer(good_answers(title), &[(PICTURES, "gate.png", &picture())], None).await.0, StatusCode::OK);
        let query = json!({ "fields": shown(&[PICTURES]), "sorts": [{ "field": 40, "descending": true }] });
        let file = nadia.query(FAULT_TABLE, query).await.1["rows"][0]["cells"][0]["value"]["files"][0].clone();
        let answer = nadia.raw(Method::GET, &format!("/api/files/{}", file["id"].as_str().unwrap()), "", &[]).await;
        (file["media"].clone(), axum::body::to_bytes(answer.into_body(), usize::MAX).await.unwrap())
    };
    let (media, bytes) = sent("Drawn anew").await;
    assert_eq!(media, "image/jpeg");
    assert_ne!(bytes, picture());
    let design = nadia.get(&format!("/api/trackers/1/tables/{FAULT_TABLE}/design")).await.1;
    let mut field = design["fields"].as_array().unwrap().iter().find(|f| f["field"]["id"] == PICTURES).unwrap()["field"].clone();
    field["originals"] = json!(true);
    let path = format!("/api/trackers/1/tables/{FAULT_TABLE}/fields/{PICTURES}");
    let (status, told) = nadia.put(&path, json!({ "field": field, "merged": [] })).await;
    assert_eq!(status, StatusCode::OK, "{told}");
    let (media, bytes) = sent("As it came").await;
    assert_eq!(media, "image/png");
    assert_eq!(bytes, picture());
}
