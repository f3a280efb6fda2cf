"""Every address of the application. All need a sign-in but the sign-in page."""

from django.urls import include, path

from vantok.backup.pages import Backups
from vantok.benches.pages import Benches, BenchPage
from vantok.board.archive import Archive
from vantok.board.compare import Compare
from vantok.board.days import Day
from vantok.board.pages import Board, FindJob, FindVehicle, History, ImportJob, JobFile, Start
from vantok.board.recalls import Recalls
from vantok.doctor.pages import Doctor
from vantok.garage.lessons import Lessons
from vantok.garage.pages import Garage, HeightsCsv, VehiclePage
from vantok.garage.taught import FleetCsv, Taught
from vantok.handbook.pages import Handbook, HandbookPage, Words
from vantok.instruments.pages import Instruments, Now, Panel, Take
from vantok.practice.debates import Debates
from vantok.practice.drills import DrillPage, Drills, PuzzlePage, WrongPage
from vantok.practice.ground import Ground
from vantok.practice.lead import CaseFile, Cases
from vantok.practice.pages import Bay, BayAct, BayLog, Debrief
from vantok.practice.progress import Progress
from vantok.shelf.cards import Cards
from vantok.shelf.editor import KitEditor
from vantok.shelf.pages import KitPage, Shelf, ShelfFile
from vantok.stages.choose.beside import SideBySide, Tradeoff
from vantok.stages.choose.carried import Fails, PressureCard, PressureCardPdf
from vantok.stages.choose.pages import Choose, Closer, Odds
from vantok.stages.choose.quote import QuotePage, QuotePdf
from vantok.stages.choose.setting import SetStage, Trial
from vantok.stages.diagnose.assumptions import Assumptions
from vantok.stages.diagnose.pages import Diagnose
from vantok.stages.fit.pages import Fit, Needed, Stuck
from vantok.stages.hand_over.care import CareCalendar, CarePdf, CareSheet
from vantok.stages.hand_over.label import ByNumber, LabelPage, LabelPdf
from vantok.stages.hand_over.pages import Report, ReportPdf
from vantok.stages.hand_over.sign import Sign
from vantok.stages.inspect.pages import Inspect
from vantok.stages.listen.pages import Listen
from vantok.stages.measure.bays import Bays
from vantok.stages.measure.by_phone import ByPhone
from vantok.stages.measure.condition import ConditionPage
from vantok.stages.measure.files import ReadingsCsv
from vantok.stages.measure.otherwise import ByPhoto, Paste
from vantok.stages.measure.pages import CellView, Measure, Settle, Since
from vantok.stages.measure.photos import Photos, PhotoView
from vantok.stages.measure.prove import Prove
from vantok.stages.measure.walk import Walk
from vantok.stages.prove.driving import DriveSheet
from vantok.stages.prove.pages import Clear, Films, Leak
from vantok.stages.prove.traces import Traces
from vantok.stages.road.pages import OverRoad, RoadCourse, RoadFile, RoadOdds
from vantok.stages.vehicle.pages import VehicleStage
from vantok.stages.weigh.across import AcrossPage
from vantok.stages.weigh.limit_pages import Coach, Limits
from vantok.stages.weigh.pages import Plan, PlanCsv, TryPlace
from vantok.stages.weigh.scales import Scales
from vantok.stages.weigh.spans import EnvelopePage
from vantok.stages.weigh.trailer import Trailer
from vantok.stages.weigh.tyres import TyresPage
from vantok.stages.weigh.zones import Zones
from vantok.static_files import OfflineScript

JOB = "jobs/<int:pk>/"
CELL = JOB + "cell/<int:state>/<slug:phase>/<slug:datum>/<slug:place>/"

handler400 = "vantok.people.failures.bad_request"
handler403 = "vantok.people.failures.forbidden"
handler404 = "vantok.people.failures.not_found"
# The pages of a job, in the order of the work.
PAGES = (
    "listen",
    "inspect",
    "vehicle",
    "weigh",
    "scales",
    "trailer",
    "limits",
    "zones",
    "across",
    "tyres",
    "coach",
    "envelope",
    "assumptions",
    "measure",
    "paste",
    "by-photo",
    "by-phone",
    "condition",
    "walk",
    "diagnose",
    "choose",
    "beside",
    "tradeoff",
    "road",
    "quote",
    "fit",
    "stuck",
    "set",
    "card",
    "fails",
    "prove",
    "leak",
    "traces",
    "clear",
    "drive",
    "films",
    "report",
    "label",
    "care",
    "history",
    "compare",
)
handler500 = "vantok.people.failures.server_error"

urlpatterns = [
    path("", Board.as_view(), name="board"),
    path("", include("vantok.shop.urls")),
    path("jobs/new/", Start.as_view(), name="start"),
    path("find/job/", FindJob.as_view(), name="find-job"),
    path("find/vehicle/", FindVehicle.as_view(), name="find-vehicle"),
    path("jobs/import/", ImportJob.as_view(), name="import"),
    path(JOB + "listen/", Listen.as_view(), name="listen"),
    path(JOB + "inspect/", Inspect.as_view(), name="inspect"),
    path(JOB + "vehicle/", VehicleStage.as_view(), name="vehicle"),
    path(JOB + "weigh/", Plan.as_view(), name="weigh"),
    path(JOB + "weigh/place/", TryPlace.as_view(), name="place"),
    path(JOB + "weigh/plan.csv", PlanCsv.as_view(), name="plan-csv"),
    path(JOB + "weigh/scales/", Scales.as_view(), name="scales"),
    path(JOB + "weigh/trailer/", Trailer.as_view(), name="trailer"),
    path(JOB + "weigh/limits/", Limits.as_view(), name="limits"),
    path(JOB + "weigh/zones/", Zones.as_view(), name="zones"),
    path(JOB + "weigh/across/", AcrossPage.as_view(), name="across"),
    path(JOB + "weigh/tyres/", TyresPage.as_view(), name="tyres"),
    path(JOB + "weigh/envelope/", EnvelopePage.as_view(), name="envelope"),
    path(JOB + "assumptions/", Assumptions.as_view(), name="assumptions"),
    path(JOB + "weigh/coach/", Coach.as_view(), name="coach"),
    path(JOB + "instruments/", Panel.as_view(), name="panel"),
    path(JOB + "instruments/take/", Take.as_view(), name="take"),
    path(JOB + "measure/", Measure.as_view(), name="measure"),
    path(JOB + "measure/condition/", ConditionPage.as_view(), name="condition"),
    path(JOB + "measure/paste/", Paste.as_view(), name="paste"),
    path(JOB + "measure/photo/", ByPhoto.as_view(), name="by-photo"),
    path(JOB + "measure/phone/", ByPhone.as_view(), name="by-phone"),
    path(JOB + "measure/settle/", Settle.as_view(), name="settle"),
    path(JOB + "measure/since/", Since.as_view(), name="since"),
    path(JOB + "measure/readings.csv", ReadingsCsv.as_view(), name="readings-csv"),
    path(JOB + "photos/", Photos.as_view(), name="photos"),
    path("photos/<int:pk>/", PhotoView.as_view(), name="photo"),
    path("bays/", Bays.as_view(), name="bays"),
    path(JOB + "walk/", Walk.as_view(), name="walk"),
    path(CELL, CellView.as_view(), name="cell"),
    path(JOB + "diagnose/", Diagnose.as_view(), name="diagnose"),
    path(JOB + "choose/", Choose.as_view(), name="choose"),
    path(JOB + "choose/side-by-side/", SideBySide.as_view(), name="beside"),
    path(JOB + "quote/", QuotePage.as_view(), name="quote"),
    path(JOB + "quote.pdf", QuotePdf.as_view(), name="quote-pdf"),
    path(JOB + "choose/plot/", Tradeoff.as_view(), name="tradeoff"),
    path(JOB + "road/", OverRoad.as_view(), name="road"),
    path(JOB + "road/course/", RoadCourse.as_view(), name="road-course"),
    path(JOB + "road/file/", RoadFile.as_view(), name="road-file"),
    path(JOB + "road/odds/", RoadOdds.as_view(), name="road-odds"),
    path(JOB + "choose/odds/", Odds.as_view(), name="odds"),
    path(JOB + "choose/<slug:key>/", Closer.as_view(), name="closer"),
    path(JOB + "fit/", Fit.as_view(), name="fit"),
    path(JOB + "fit/stuck/", Stuck.as_view(), name="stuck"),
    path(JOB + "fit/needs/", Needed.as_view(), name="needs"),
    path(JOB + "set/", SetStage.as_view(), name="set"),
    path(JOB + "set/card/", PressureCard.as_view(), name="card"),
    path(JOB + "set/card.pdf", PressureCardPdf.as_view(), name="card-pdf"),
    path(JOB + "set/fails/", Fails.as_view(), name="fails"),
    path(JOB + "set/trial/", Trial.as_view(), name="trial"),
    path(JOB + "prove/leak/", Leak.as_view(), name="leak"),
    path(JOB + "prove/clearances/", Clear.as_view(), name="clear"),
    path(JOB + "prove/films/", Films.as_view(), name="films"),
    path(JOB + "prove/traces/", Traces.as_view(), name="traces"),
    path(JOB + "prove/drive/", DriveSheet.as_view(), name="drive"),
    path(JOB + "prove/", Prove.as_view(), name="prove"),
    path(JOB + "report/", Report.as_view(), name="report"),
    path(JOB + "report.pdf", ReportPdf.as_view(), name="report-pdf"),
    path(JOB + "label/", LabelPage.as_view(), name="label"),
    path(JOB + "label.pdf", LabelPdf.as_view(), name="label-pdf"),
    path(JOB + "care/", CareSheet.as_view(), name="care"),
    path(JOB + "care.pdf", CarePdf.as_view(), name="care-pdf"),
    path(JOB + "care.ics", CareCalendar.as_view(), name="care-ics"),
    path(JOB + "archive.zip", Archive.as_view(), name="archive"),
    path("j/<path:number>/", ByNumber.as_view(), name="by-number"),
    path("day/", Day.as_view(), name="day"),
    path("recalls/", Recalls.as_view(), name="recalls"),
    path(JOB + "file.json", JobFile.as_view(), name="job-file"),
    path(JOB + "side-by-side/", Compare.as_view(), name="compare"),
    path(JOB + "sign/", Sign.as_view(), name="sign"),
    path(JOB + "history/", History.as_view(), name="history"),
    path("backups/", Backups.as_view(), name="backups"),
    path("offline.js", OfflineScript.as_view(), name="offline-script"),
    path("help/", Handbook.as_view(), name="handbook"),
    path("help/words.json", Words.as_view(), name="handbook-words"),
    path("help/<slug:kind>/<slug:key>/", HandbookPage.as_view(), name="handbook-page"),
    path("shop/doctor/", Doctor.as_view(), name="doctor"),
    path("instruments/", Instruments.as_view(), name="instruments"),
    path("instruments/now/", Now.as_view(), name="now"),
    path("garage/", Garage.as_view(), name="garage"),
    path("garage/learnt/", Lessons.as_view(), name="lessons"),
    path("garage/taught/", Taught.as_view(), name="taught"),
    path("garage/fleet.csv", FleetCsv.as_view(), name="fleet-csv"),
    path("garage/<int:pk>/", VehiclePage.as_view(), name="vehicle-page"),
    path("garage/<int:pk>/heights.csv", HeightsCsv.as_view(), name="heights-csv"),
    path("practice/", Bay.as_view(), name="bay"),
    path("practice/playground/", Ground.as_view(), name="ground"),
    path("practice/drills/", Drills.as_view(), name="drills"),
    path("practice/drills/order/", PuzzlePage.as_view(), name="puzzle"),
    path("practice/drills/fault/", WrongPage.as_view(), name="wrong"),
    path("practice/drills/<slug:key>/", DrillPage.as_view(), name="drill"),
    path("practice/debates/", Debates.as_view(), name="debates"),
    path("practice/progress/", Progress.as_view(), name="progress"),
    path("practice/cases/", Cases.as_view(), name="cases"),
    path("practice/cases/<int:pk>/case.json", CaseFile.as_view(), name="case-file"),
    path(JOB + "bay/", BayAct.as_view(), name="bay-act"),
    path(JOB + "bay/log/<int:act>.csv", BayLog.as_view(), name="bay-log"),
    path(JOB + "bay/debrief/", Debrief.as_view(), name="bay-debrief"),
    path("shelf/", Shelf.as_view(), name="shelf"),
    path("cards/", Cards.as_view(), name="cards"),
    path("shelf/kits.json", ShelfFile.as_view(), name="shelf-file"),
    path("shelf/new/", KitEditor.as_view(), name="kit-new"),
    path("benches/", Benches.as_view(), name="benches"),
    path("benches/<slug:key>/", BenchPage.as_view(), name="bench"),
    path("shelf/<slug:code>/edit/", KitEditor.as_view(), name="kit-edit"),
    path("shelf/<slug:code>/", KitPage.as_view(), name="kit"),
]
