"""The addresses of pieces, below `/api/`."""

from django.urls import path

from . import site_views, views

urlpatterns = [
    path("feeds", views.FeedsView.as_view()),
    path("item-types", views.ItemTypesView.as_view()),
    path("sites/<slug:site>/pieces", views.PiecesView.as_view()),
    path("sites/<slug:site>/piece-pages", views.PiecePagesView.as_view()),
    path("sites/<slug:site>/pieces/<slug:piece>", views.PieceView.as_view()),
    path("sites/<slug:site>/pieces/<slug:piece>/copy", views.CopyPieceView.as_view()),
    path("sites/<slug:site>/pieces/<slug:piece>/versions", views.VersionsView.as_view()),
    path("sites/<slug:site>/pieces/<slug:piece>/difference", views.DifferenceView.as_view()),
    path("sites/<slug:site>/pieces/<slug:piece>/uses", views.PieceUsesView.as_view()),
    path("sites/<slug:site>/sidebar-reach", views.SidebarReachView.as_view()),
    path("sites/<slug:site>/settings", site_views.SettingsView.as_view()),
    path("sites/<slug:site>/menus", site_views.MenusView.as_view()),
    path("sites/<slug:site>/dresses", site_views.DressesView.as_view()),
    path("sites/<slug:site>/files", site_views.FilesView.as_view()),
    path("sites/<slug:site>/files/<str:name>", site_views.FileView.as_view()),
    path("sites/<slug:site>/starters", views.StartersView.as_view()),
    path("sites/<slug:site>/starters/<slug:starter>", views.StartView.as_view()),
    path("sites/<slug:site>/markup", views.MarkupView.as_view()),
    path("sites/<slug:site>/picture", views.PictureView.as_view()),
]
