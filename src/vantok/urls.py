"""Every address of the application. All need a sign-in but the sign-in page."""

from django.urls import include, path

from vantok.choose.views import Choose, SetStage, Trial
from vantok.diagnose.views import Diagnose
from vantok.garage.views import Garage, VehiclePage
from vantok.handover.views import Report, ReportPdf
from vantok.jobs.views import Board, History, ImportJob, Inspect, JobFile, Listen, Start, VehicleStage
from vantok.measure.views import CellView, Measure
from vantok.measure.walk import Walk
from vantok.prove.views import Prove
from vantok.shelf.views import KitPage, Shelf
from vantok.weigh.views import Weigh

JOB = "jobs/<int:pk>/"
CELL = JOB + "cell/<int:state>/<slug:phase>/<slug:datum>/<slug:place>/"

urlpatterns = [
    path("", Board.as_view(), name="board"),
    path("", include("vantok.people.urls")),
    path("jobs/new/", Start.as_view(), name="start"),
    path("jobs/import/", ImportJob.as_view(), name="import"),
    path(JOB + "listen/", Listen.as_view(), name="listen"),
    path(JOB + "inspect/", Inspect.as_view(), name="inspect"),
    path(JOB + "vehicle/", VehicleStage.as_view(), name="vehicle"),
    path(JOB + "weigh/", Weigh.as_view(), name="weigh"),
    path(JOB + "measure/", Measure.as_view(), name="measure"),
    path(JOB + "walk/", Walk.as_view(), name="walk"),
    path(CELL, CellView.as_view(), name="cell"),
    path(JOB + "diagnose/", Diagnose.as_view(), name="diagnose"),
    path(JOB + "choose/", Choose.as_view(), name="choose"),
    path(JOB + "set/", SetStage.as_view(), name="set"),
    path(JOB + "set/trial/", Trial.as_view(), name="trial"),
    path(JOB + "prove/", Prove.as_view(), name="prove"),
    path(JOB + "report/", Report.as_view(), name="report"),
    path(JOB + "report.pdf", ReportPdf.as_view(), name="report-pdf"),
    path(JOB + "file.json", JobFile.as_view(), name="job-file"),
    path(JOB + "history/", History.as_view(), name="history"),
    path("garage/", Garage.as_view(), name="garage"),
    path("garage/<int:pk>/", VehiclePage.as_view(), name="vehicle-page"),
    path("shelf/", Shelf.as_view(), name="shelf"),
    path("shelf/<slug:code>/", KitPage.as_view(), name="kit"),
]
